package quantity_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"orpine/internal/core/quantity"
)

// By hand: 1.6 mm = 0.06299 in, 4/64 = 0.0625; 5.7 = 0.22441, 14/64 = 0.21875; 12,400 =
// 488.1890, 12/64 = 0.1875; 0.3 = 0.01181, nearest 1/64 = 0.015625.
func TestASentenceIsSaidInInchesAsTheTapeShowsThem(t *testing.T) {
	for in, want := range map[string]string{
		"raise the rear of the tip support 1.6 mm (1.0 + 0.6 mm)": "raise the rear of the tip support 1/16 in (3/64 (0.039) + 1/32 (0.024) in)",
		"tip difference +5.7 ± 0.9 mm":                            "tip difference +7/32 (0.224) ± 0.036 in",
		"span 12,400 mm":                                          "span 488 3/16 (488.189) in",
		"lower R1 0.1 mm":                                         "lower R1 0.004 in",
		"25.4 mm":                                                 "1 in",
		"off by −50.8 mm":                                         "off by −2 in",
		"0.8 mm to 1.2 mm":                                        "1/32 to 3/64 in",
		"+2.4 mm ± 0.1 mm":                                        "+3/32 (0.094) ± 0.004 in",
		"head 4.8 × 1.6 mm":                                       "head 3/16 (0.189) × 1/16 in",
		"nothing here":                                            "nothing here",
		"3 mmm and 2 kg":                                          "3 mmm and 2 kg",
		"64 5/16 in = 1633.5 mm":                                  "64 5/16 in = 64 5/16 (64.311) in",
	} {
		assert.Equal(t, want, quantity.Inches(in), in)
	}
}
