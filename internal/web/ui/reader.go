package ui

import (
	"context"
	"html/template"
	"net/http"
	"slices"
	"strings"
	"text/template/parse"

	"github.com/gin-gonic/gin"

	"orpine/internal/airframe"
	"orpine/internal/core/quantity"
	"orpine/internal/core/say"
)

// ShopUnit is the unit of a sheet that shows all aircraft: inches where every one has them.
func (u *UI) ShopUnit(ctx context.Context) quantity.Unit {
	list, err := u.Airframes.List(ctx)
	if err != nil || len(list) == 0 || slices.ContainsFunc(list, func(f airframe.Airframe) bool { return f.Unit != quantity.Inch }) {
		return quantity.Millimetre
	}
	return quantity.Inch
}

// A manner is a way to write figures that a builder may choose, as the cookie of a browser names it.
type manner struct {
	Name, Label string
	set         func(r *say.Reader)
}

var manners = []manner{
	{"decimals", "inches as decimals, never as fractions", func(r *say.Reader) { r.Decimals = true }},
	{"slopes", "angles as a slope, a rise over a run", func(r *say.Reader) { r.Slopes = true }},
	{"comma", "a comma before decimals", func(r *say.Reader) { r.Comma = true }},
	{"fahrenheit", "temperatures in degrees Fahrenheit", func(r *say.Reader) { r.Fahrenheit = true }},
}

// mannerOf is whether a browser chose a manner.
type mannerOf struct {
	manner
	Chosen bool
}

// allSheets is every sheet, for a phone that has no room for their tabs, and how figures are written.
func (u *UI) allSheets(c *gin.Context) {
	chosen, _ := c.Cookie("figures")
	view := struct {
		Sheets  []Named
		Manners []mannerOf
	}{Sheets: sheetList}
	for _, m := range manners {
		view.Manners = append(view.Manners, mannerOf{m, slices.Contains(strings.Split(chosen, "."), m.Name)})
	}
	u.Render(c, 0, "sheets", u.Page(c, "sheets", "All sheets", view))
}

// chooseFigures chooses how this browser's reader has figures written.
func (u *UI) chooseFigures(c *gin.Context) {
	var chosen []string
	for _, m := range manners {
		if c.PostForm(m.Name) != "" {
			chosen = append(chosen, m.Name)
		}
	}
	u.cookie(c, "figures", strings.Join(chosen, "."), 400)
	c.Redirect(http.StatusSeeOther, u.Base+"/sheets")
}

// readerOf is whoever chose some manners, parted by dots, of an aircraft with a unit of length.
func readerOf(unit quantity.Unit, chosen string) say.Reader {
	r := say.For(unit)
	for _, name := range strings.Split(chosen, ".") {
		for _, m := range manners {
			if m.Name == name {
				m.set(&r)
			}
		}
	}
	return r
}

// said is what a template writes, its figures as the reader has them.
func said(r say.Reader) func(any) any {
	return func(v any) any {
		switch v := v.(type) {
		case string:
			return r.Text(v)
		case template.HTML:
			return template.HTML(r.Text(string(v))) //nolint:gosec // a figure has no mark of HTML
		case say.Figure:
			return r.Figure(v)
		}
		return v
	}
}

// figured lets every action of a template that writes something write its figures for the reader.
func figured(t *template.Template) {
	for _, one := range t.Templates() {
		if one.Tree != nil {
			figures(one.Tree, one.Tree.Root)
		}
	}
}

func figures(tree *parse.Tree, n parse.Node) {
	branch := func(b *parse.BranchNode) {
		figures(tree, b.List)
		if b.ElseList != nil {
			figures(tree, b.ElseList)
		}
	}
	switch n := n.(type) {
	case *parse.ListNode:
		for _, inner := range n.Nodes {
			figures(tree, inner)
		}
	case *parse.IfNode:
		branch(&n.BranchNode)
	case *parse.RangeNode:
		branch(&n.BranchNode)
	case *parse.WithNode:
		branch(&n.BranchNode)
	case *parse.ActionNode:
		if len(n.Pipe.Decl) == 0 {
			call := &parse.CommandNode{NodeType: parse.NodeCommand, Pos: n.Pos, Args: []parse.Node{parse.NewIdentifier("said").SetPos(n.Pos).SetTree(tree)}}
			n.Pipe.Cmds = append(n.Pipe.Cmds, call)
		}
	}
}

// drawer is a page with a name as its templates write it for a reader.
type drawer struct {
	reader say.Reader
	name   string
}

// drawerOf is the page of a name for a reader, made when it is first asked for.
func (u *UI) drawerOf(name string, r say.Reader) (*template.Template, error) {
	key := drawer{r, name}
	if t, ok := u.drawers.Load(key); ok {
		return t.(*template.Template), nil
	}
	t, err := u.pages[name].Clone()
	if err != nil {
		return nil, err
	}
	made, _ := u.drawers.LoadOrStore(key, t.Funcs(template.FuncMap{"said": said(r)}))
	return made.(*template.Template), nil
}
