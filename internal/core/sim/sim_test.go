package sim

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"
)

func TestDbg(t *testing.T) {
	for _, k := range []float64{2, 2.5, 3} {
		rules := Usual
		rules.Coverage = k
		start := time.Now()
		r := Run(1, 0, 1000, rules).Report(1, rules)
		data, _ := json.Marshal(r)
		fmt.Println(k, time.Since(start), string(data))
	}
}
