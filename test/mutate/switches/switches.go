// Package switches stands in the copy of the program that mutate tries: each wrong line is a call with
// its number, which does what the right line does unless the environment's SWITCHES_ON is that number.
// Which are reached goes into the file that SWITCHES_SEEN names.
package switches

import (
	"cmp"
	"fmt"
	"os"
	"strconv"
	"sync"
)

var (
	on, _ = strconv.Atoi(os.Getenv("SWITCHES_ON"))
	file  = os.Getenv("SWITCHES_SEEN")
	seen  sync.Map
)

// is tells whether a number is awake.
func is(n int) bool {
	if file != "" {
		if _, was := seen.LoadOrStore(n, true); !was {
			if f, err := os.OpenFile(file, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600); err == nil {
				fmt.Fprintln(f, n)
				f.Close()
			}
		}
	}
	return n == on
}

// Not negates a condition.
func Not[B ~bool](n int, b B) B { return b != B(is(n)) }

// Never does not heed one.
func Never[B ~bool](n int, b B) B { return b && !B(is(n)) }

type number interface {
	~int | ~int8 | ~int16 | ~int32 | ~int64 | ~uint | ~uint8 | ~uint16 | ~uint32 | ~uint64 | ~uintptr | ~float32 | ~float64
}

// Plus takes away.
func Plus[T number](n int, a, b T) T {
	if is(n) {
		return a - b
	}
	return a + b
}

// Minus adds.
func Minus[T number](n int, a, b T) T {
	if is(n) {
		return a + b
	}
	return a - b
}

// Less takes in its bound.
func Less[T cmp.Ordered](n int, a, b T) bool {
	if is(n) {
		return a <= b
	}
	return a < b
}

// AtMost leaves its bound out.
func AtMost[T cmp.Ordered](n int, a, b T) bool {
	if is(n) {
		return a < b
	}
	return a <= b
}

// More takes in its bound.
func More[T cmp.Ordered](n int, a, b T) bool {
	if is(n) {
		return a >= b
	}
	return a > b
}

// AtLeast leaves its bound out.
func AtLeast[T cmp.Ordered](n int, a, b T) bool {
	if is(n) {
		return a > b
	}
	return a >= b
}
