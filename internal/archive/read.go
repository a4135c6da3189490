package archive

import (
	"archive/zip"
	"bufio"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"io/fs"
	"regexp"
	"strings"

	"orpine/internal/core/journal"
)

// The bounds of an archive that is taken in.
const (
	mostMembers  = 200_000
	mostPhoto    = 48 << 20
	mostTable    = 2 << 30
	mostJournal  = 8 << 30
	mostManifest = 64 << 20
	mostLine     = 16 << 20
)

// Refused says why a file is no archive that is taken, in words for whoever sent it.
type Refused struct{ Why string }

// Error says why.
func (r *Refused) Error() string { return r.Why + ". Nothing of it was taken" }

func refuse(text string, args ...any) error { return &Refused{fmt.Sprintf(text, args...)} }

// Archive is one that was looked through: every member is what the manifest says.
type Archive struct {
	Manifest
	SHA256  string // of its manifest, by which it is told from others
	members map[string]*zip.File
}

// memberName is what members are called, and nothing else.
var memberName = regexp.MustCompile(`^(?:orpine-archive\.json|journal\.jsonl|csv/[a-z-]{1,40}\.csv|photos/[0-9a-f]{64}\.(?:jpg|png))$`)

// Open looks an archive through: no member that is not known, none twice, none larger than it
// says or than is allowed, all of them as the manifest has them, every entry whole. A *Refused
// says what is wrong.
func Open(file io.ReaderAt, size int64) (*Archive, error) {
	z, err := zip.NewReader(file, size)
	if err != nil {
		return nil, refuse("this is no archive of a workshop, or it is cut short (%v)", err)
	}
	if len(z.File) > mostMembers {
		return nil, refuse("it holds more than %d files", mostMembers)
	}
	a := &Archive{members: map[string]*zip.File{}}
	for _, f := range z.File {
		switch {
		case !memberName.MatchString(f.Name):
			return nil, refuse("it holds a file that no archive has: %.80q", f.Name)
		case a.members[f.Name] != nil:
			return nil, refuse("it holds %s twice", f.Name)
		case f.Method != zip.Store && f.Method != zip.Deflate || f.Flags&1 != 0 || f.Mode()&fs.ModeType != 0:
			return nil, refuse("%s is packed in a way that no archive is", f.Name)
		case f.UncompressedSize64 > uint64(most(f.Name)):
			return nil, refuse("%s is larger than is taken", f.Name)
		}
		a.members[f.Name] = f
	}
	if err := a.readManifest(); err != nil {
		return nil, err
	}
	return a, a.whole()
}

// most is how large a member may be.
func most(name string) int64 {
	switch {
	case name == manifestName:
		return mostManifest
	case name == journalName:
		return mostJournal
	case strings.HasPrefix(name, "photos/"):
		return mostPhoto
	}
	return mostTable
}

func (a *Archive) readManifest() error {
	f := a.members[manifestName]
	if f == nil || a.members[journalName] == nil {
		return refuse("this is no archive of a workshop: %s or %s is missing", manifestName, journalName)
	}
	data, err := a.all(manifestName)
	if err != nil {
		return err
	}
	sum := sha256.Sum256(data)
	a.SHA256 = hex.EncodeToString(sum[:])
	if err := json.Unmarshal(data, &a.Manifest); err != nil || a.Format != Format {
		return refuse("this is no archive of a workshop: %s cannot be read", manifestName)
	}
	if a.Version != Version {
		return refuse("the archive is of version %d, and this program knows version %d", a.Version, Version)
	}
	if a.Scope != Workshop && a.Scope != Aircraft {
		return refuse("the archive is of %.40q, which this program does not know", a.Scope)
	}
	listed := map[string]bool{}
	for _, m := range a.Members {
		if a.members[m.Name] == nil || m.Name == manifestName || listed[m.Name] {
			return refuse("the archive lists %.80q, which is not in it, or twice", m.Name)
		}
		listed[m.Name] = true
	}
	if len(listed) != len(a.members)-1 {
		return refuse("the archive holds files that it does not list")
	}
	return nil
}

// all reads a small member.
func (a *Archive) all(name string) ([]byte, error) {
	r, err := a.members[name].Open()
	if err != nil {
		return nil, refuse("%s cannot be unpacked (%v)", name, err)
	}
	defer r.Close()
	data, err := io.ReadAll(io.LimitReader(r, most(name)+1))
	if err != nil || int64(len(data)) > most(name) {
		return nil, refuse("%s cannot be unpacked, or is larger than it says", name)
	}
	return data, nil
}

// whole reads every member once: its size and sum are what is listed, a photo's name is its sum.
func (a *Archive) whole() error {
	for _, m := range a.Members {
		sum := sha256.New()
		n, err := a.into(m.Name, sum)
		if err != nil {
			return err
		}
		got := hex.EncodeToString(sum.Sum(nil))
		if n != m.Bytes || got != m.SHA256 {
			return refuse("%s is damaged: it is not what was packed", m.Name)
		}
		if photo, ok := strings.CutPrefix(m.Name, "photos/"); ok && photo[:64] != got {
			return refuse("%s is another picture than it is called", m.Name)
		}
	}
	n, last := int64(0), Last{}
	err := a.Entries(func(e journal.Entry) error {
		n, last = n+1, Last{e.Seq, e.Hash}
		if !e.Whole() {
			return refuse("entry %d is not what was sealed", e.Seq)
		}
		return nil
	})
	if err == nil && (n != a.Manifest.Entries || last != a.Last) {
		err = refuse("the journal in it ends elsewhere than the archive says")
	}
	return err
}

func (a *Archive) into(name string, sum hash.Hash) (int64, error) {
	r, err := a.members[name].Open()
	if err != nil {
		return 0, refuse("%s cannot be unpacked (%v)", name, err)
	}
	defer r.Close()
	n, err := io.Copy(sum, io.LimitReader(r, most(name)+1))
	if err != nil {
		return n, refuse("%s is damaged (%v)", name, err)
	}
	return n, nil
}

// Entries goes through the entries in their order.
func (a *Archive) Entries(each func(e journal.Entry) error) error {
	r, err := a.members[journalName].Open()
	if err != nil {
		return refuse("%s cannot be unpacked (%v)", journalName, err)
	}
	defer r.Close()
	lines := bufio.NewScanner(io.LimitReader(r, mostJournal))
	lines.Buffer(make([]byte, 1<<20), mostLine)
	for n := 1; lines.Scan(); n++ {
		var l line
		in := json.NewDecoder(bytes.NewReader(lines.Bytes()))
		in.DisallowUnknownFields()
		if err := in.Decode(&l); err != nil {
			return refuse("line %d of the journal cannot be read", n)
		}
		e, err := l.entry()
		if err != nil {
			return refuse("line %d of the journal cannot be read: it has no time", n)
		}
		if err := each(e); err != nil {
			return err
		}
	}
	if err := lines.Err(); errors.Is(err, bufio.ErrTooLong) {
		return refuse("a line of the journal is larger than is taken")
	} else if err != nil {
		return refuse("the journal is damaged (%v)", err)
	}
	return nil
}

// photos are the pictures in it, by their sums.
func (a *Archive) photos() (sums []string) {
	for _, m := range a.Members {
		if photo, ok := strings.CutPrefix(m.Name, "photos/"); ok {
			sums = append(sums, photo[:64])
		}
	}
	return sums
}

func (a *Archive) photo(sum string) ([]byte, error) {
	for _, kind := range []string{".jpg", ".png"} {
		if a.members["photos/"+sum+kind] != nil {
			return a.all("photos/" + sum + kind)
		}
	}
	return nil, refuse("a photo is missing")
}
