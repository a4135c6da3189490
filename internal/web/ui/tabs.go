package ui

import (
	"net/http"
	"regexp"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
)

// Tab is one of the six at the left edge, or Shop, which stands behind them.
type Tab struct {
	Name, Key, Path string // the key goes there on every sheet, and writes nothing
	Leaves          []Leaf
	Now             bool // one of its sheets is shown
}

// Leaf is a sheet of a tab.
type Leaf struct {
	Name, Path string
	Of         string // what the pages of it name as their Tab
}

// Tabs are the six, in order, and Shop.
var Tabs = []Tab{
	{Name: "Tonight", Key: "t", Path: "/", Leaves: []Leaf{{"Tonight", "/", "airframe"}}},
	{Name: "Measure", Key: "m", Path: "/measure", Leaves: []Leaf{{"Now", "/measure", "now"}, {"Setups", "/setups", "setup"}, {"Joins", "/joins", "join"}, {"Instruments", "/instruments", "instruments"}}},
	{Name: "Holds", Key: "h", Path: "/holds", Leaves: []Leaf{{"Holds", "/holds", "hold"}, {"Rows", "/rows", "rows"}}},
	{Name: "Work", Key: "w", Path: "/order", Leaves: []Leaf{{"Order of work", "/order", "order"}}},
	{Name: "Parts", Key: "p", Path: "/stores", Leaves: []Leaf{{"Stores", "/stores", "stores"}}},
	{Name: "Record", Key: "r", Path: "/log", Leaves: []Leaf{{"Log", "/log", "log"}}},
	{Name: "Shop", Path: "/sheets", Leaves: []Leaf{{"All sheets", "/sheets", "sheets"}, {"Paper", "/paper", "paper"}, {"Files", "/files", "files"}, {"Practice", "", "practice"}, {"People", "", "people"}}},
}

// six is how many tabs stand at the edge.
const six = 6

// Letter is the key as it stands on the tab.
func (t Tab) Letter() string { return string(t.Key[0] - 'a' + 'A') }

// Edge are the tabs at the edge, as this page has them.
func (p Page) Edge() []Tab {
	out := slices.Clone(Tabs[:six])
	for i := range out {
		out[i].Now = slices.ContainsFunc(out[i].Leaves, func(l Leaf) bool { return l.Of == p.Tab })
		if last := p.Last[out[i].Key]; last != "" && !out[i].Now {
			out[i].Path = last
		}
	}
	return out
}

// Leaf is the tab that this page is of, with its sheets; nil where it has but one.
func (p Page) Leaf() *Tab {
	for _, t := range Tabs[:six] {
		if len(t.Leaves) > 1 && slices.ContainsFunc(t.Leaves, func(l Leaf) bool { return l.Of == p.Tab }) {
			return &t
		}
	}
	return nil
}

// worked are the sheets that a tab opens again: what was last worked on there.
var worked = regexp.MustCompile(`^/(setups|holds|rows)/[0-9a-f-]{36}$`)

// lastWorked are what was last worked on, by the key of its tab, this page's among them.
func (u *UI) lastWorked(c *gin.Context, tab, path string) map[string]string {
	out := map[string]string{}
	for _, t := range Tabs[:six] {
		if kept, err := c.Cookie("last-" + t.Key); err == nil && strings.HasPrefix(kept, u.Base+"/") && worked.MatchString(strings.TrimPrefix(kept, u.Base)) {
			out[t.Key] = strings.TrimPrefix(kept, u.Base)
		}
		if c.Request.Method == http.MethodGet && worked.MatchString(path) && out[t.Key] != path && slices.ContainsFunc(t.Leaves, func(l Leaf) bool { return l.Of == tab }) {
			u.cookie(c, "last-"+t.Key, u.Base+path, 30)
			out[t.Key] = path
		}
	}
	return out
}

// forget lets a tab open its first sheet again, where what was last worked on is gone.
func (u *UI) forget(c *gin.Context, path string) {
	for _, t := range Tabs[:six] {
		if kept, err := c.Cookie("last-" + t.Key); err == nil && kept == u.Base+path {
			u.cookie(c, "last-"+t.Key, "", -1)
		}
	}
}
