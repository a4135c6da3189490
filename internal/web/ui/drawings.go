package ui

import (
	"bytes"
	"sync"
)

// drawings are the parts of sheets that people watch, as they were drawn last: a change is drawn once
// for all who see the same, not once for each of them.
type drawings struct {
	mu  sync.Mutex
	all map[string]map[string]*drawnPart // by sheet, and by what is seen of it: point in hand and role
}

type drawnPart struct {
	seq  int64 // the last entry when it was
	once sync.Once
	part []byte
	err  error
}

// of is the part as it is after an entry, drawn by the first who asks. What failed for one, or
// carries somebody's name, is drawn for each.
func (d *drawings) of(sheet, seen string, seq int64, draw func() ([]byte, error)) ([]byte, error) {
	d.mu.Lock()
	if d.all == nil {
		d.all = map[string]map[string]*drawnPart{}
	}
	if d.all[sheet] == nil {
		d.all[sheet] = map[string]*drawnPart{}
	}
	one := d.all[sheet][seen]
	if one == nil || one.seq < seq {
		one = &drawnPart{seq: seq}
		d.all[sheet][seen] = one
	}
	d.mu.Unlock()
	mine := false
	one.once.Do(func() {
		mine = true
		one.part, one.err = draw()
	})
	if mine || one.err == nil && one.seq >= seq && !bytes.Contains(one.part, []byte(`name="by"`)) {
		return one.part, one.err
	}
	return draw()
}

// drop forgets a sheet that nobody watches any more.
func (d *drawings) drop(sheet string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	delete(d.all, sheet)
}
