// Package form describes the fields of a form that a builder fills in from the plans.
package form

// Field is one figure, word or list that something is set up with.
type Field struct {
	Key      string // in the definition
	Label    string
	Columns  []string // of a list, one item to a line, parted by ;: name, then lengths; nil for one figure
	As       string   // length, pitch, plain, or word for one of Words
	Words    []string
	Optional bool
	Kept     bool // it is of the aircraft or of a tool: what its last check states is offered to the next
}

// Names tells whether it is a list of things by their names.
func (f Field) Names() bool { return len(f.Columns) > 0 && f.Columns[0] == "name" }
