package ledger

import lru "github.com/hashicorp/golang-lru/v2"

// Lately keeps the last few hundred values that were worked out or read, by all that they
// rest on: the hash of the entry that made them, or a sum of what went in. Such a key
// never comes to mean something else, so nothing needs to be taken out. The values are
// shared, and nobody changes them.
func Lately[K comparable, V any]() *lru.Cache[K, V] {
	cache, err := lru.New[K, V](500)
	if err != nil { // only a size below 1 is refused
		panic(err)
	}
	return cache
}
