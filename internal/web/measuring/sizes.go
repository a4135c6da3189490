package measuring

import (
	"fmt"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/check"
	"orpine/internal/core/measure"
	"orpine/internal/ledger"
	"orpine/internal/measuring"
	"orpine/internal/web/ui"
)

// mostRows is how many places stand on a drawing with fields of their own.
const mostRows = 24

// sizesOf are the fields on a check's drawing that say where things are. What nobody said stands behind its field.
func sizesOf(c measuring.Check, typed measuring.Sized, wrong ledger.Problems) (out []sizeForm) {
	for _, size := range c.Sizes() {
		if len(size.Rows) > mostRows && !size.Wait {
			continue // each of so many is put right by itself
		}
		form := sizeForm{Label: before(size.Label), Wait: size.Wait, Problem: wrong[size.Key]}
		columns := max(1, len(size.Columns)-1)
		cell := func(label, text string, at int) ui.Named {
			n := ui.Named{Name: "sized." + size.Key, Label: label, Value: text}
			if size.Wait {
				n.Value, n.Like = "", text
			}
			if own := typed[size.Key]; at < len(own) {
				n.Value = own[at]
			}
			return n
		}
		if len(size.Columns) == 0 {
			form.Rows = [][]ui.Named{{cell(size.Label, size.Rows[0][0], 0)}}
			out = append(out, form)
			continue
		}
		for i, row := range size.Rows {
			cells := []ui.Named{{Value: row[0]}}
			for j, text := range row[1:] {
				path := fmt.Sprintf("%s.%d.%d", size.Key, i, j)
				if form.Problem == "" && wrong[path] != "" {
					form.Problem = row[0] + ": " + wrong[path]
				}
				cells = append(cells, cell(strings.TrimSpace(row[0]+" "+columnHeads[size.Columns[j+1]]), text, i*columns+j))
			}
			form.Rows = append(form.Rows, cells)
		}
		for _, column := range size.Columns[1:] {
			form.Heads = append(form.Heads, columnHeads[column])
		}
		out = append(out, form)
	}
	return out
}

// sizes says where things of a check are.
func (s sheets) sizes(c *gin.Context) {
	seen, _ := strconv.ParseInt(c.PostForm("seen"), 10, 64)
	n := measuring.Redefine{Form: ledger.Form{ID: c.PostForm("id")}, Check: c.Param("check"), Seen: seen, Sized: measuring.Sized{}}
	for name, texts := range c.Request.PostForm {
		if key, ok := strings.CutPrefix(name, "sized."); ok {
			n.Sized[key] = texts
		}
	}
	err := s.Measuring.Redefine(c.Request.Context(), n)
	s.answerForm(c, err, setupForm{check: n.Check, number: number(c), sized: n.Sized})
}

// limit sets the limit beside the answer.
func (s sheets) limit(c *gin.Context) {
	seen, _ := strconv.ParseInt(c.PostForm("seen"), 10, 64)
	n := measuring.Redefine{Form: ledger.Form{ID: c.PostForm("id")}, Check: c.Param("check"), Seen: seen, Limit: &measuring.LimitTo{}}
	err := ui.Bind(c, n.Limit)
	if err == nil {
		err = s.Measuring.Redefine(c.Request.Context(), n)
	}
	s.answerForm(c, err, setupForm{check: n.Check, number: number(c), limit: n.Limit})
}

// limitView is the limit of the quantity in the answer, as it may be typed beside it.
type limitView struct {
	limitForm
	Named string // what is limited, in words
	Usual bool   // nobody said what the plans say
}

// limitOf is that of a check; of a kind that limits nothing, one without a quantity.
func limitOf(c measuring.Check, typed *measuring.LimitTo, wrong ledger.Problems) (v limitView) {
	if len(c.Kind.Limits) == 0 {
		return v
	}
	l := c.Kind.Limits[0]
	if q, ok := c.Headline(); ok {
		for _, other := range c.Kind.Limits {
			if other.Name == q.Name {
				l = other
			}
		}
	}
	v.Quantity, v.Named, v.Problem = l.Name, check.SayLimited(c.Kind, l.Name), wrong["limit"]
	v.Low, v.High = c.LimitTexts(l.Name)
	if typed != nil && typed.Quantity == l.Name && v.Problem != "" {
		v.Low, v.High = typed.Low, typed.High
	}
	v.Usual = c.Usual(l.Name) && v.Low+v.High != ""
	return v
}

// Unit is what a bare figure of the limit is in.
func (v limitView) Unit(c measuring.Check) string {
	for _, l := range c.Kind.Limits {
		if l.Name == v.Quantity && l.Dimension == measure.Angle {
			return "°"
		}
	}
	return ""
}
