package ledger

// Right is what an entry, or a page, asks of whoever makes it.
type Right string

// The rights.
const (
	Own     Right = "own"  // whoever is signed in, about themselves
	Work    Right = "work" // to enter what was done at the bench
	Sign    Right = "sign" // to answer for something as an inspector does
	Make    Right = "make" // to lay down, alter, release, order
	Keeping Right = "keep" // people, and what the machine itself does
)

// Rights are several of which any will do.
type Rights []Right

// takes refuses an entry of a kind to whom it is not given to make. Where nobody signs in there is no
// Author who says what they may.
func (a Author) takes(rights Rights) error {
	if a.May == nil || a.May(rights...) {
		return nil
	}
	return Problems{"": "it is not yours to do, " + a.Name + ": a builder may, or make you something else under People"}
}

// Takes are the rights that each kind of entry asks for, by its name.
func (l *Ledger) Takes() map[string]Rights {
	out := map[string]Rights{}
	for name, kind := range l.registry.kinds {
		out[name] = kind.takes()
	}
	return out
}
