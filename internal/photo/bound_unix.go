//go:build unix

package photo

import "syscall"

// bound lets this process have no more than so many bytes of memory that it writes to.
func bound(bytes uint64) error {
	return syscall.Setrlimit(syscall.RLIMIT_DATA, &syscall.Rlimit{Cur: bytes, Max: bytes})
}
