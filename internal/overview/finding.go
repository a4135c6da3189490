package overview

import (
	"context"
	"net/url"
	"regexp"
	"strconv"
	"strings"

	"orpine/internal/finding"
	"orpine/internal/ledger"
	"orpine/internal/store/query"
)

// listed takes off what lists are kept with.
var listed = strings.NewReplacer("[", "", "]", "", `"`, "", "null", "")

// findables is how many entries of the log are brought into the index at a time.
const findables = 2000

// holeAsked is a hole that is asked for by its number.
var holeAsked = regexp.MustCompile(`(?i)\bhole\s+(\d+)\b`)

// FoundThings is what a few words find.
type FoundThings struct {
	Things []finding.Hit // parts, setups, holds, rows, people and the like, the likest first
	Log    []finding.Hit // entries of the log, the latest first
	Until  int64         // entries of the log before this one are not in the index yet; 0 for none
}

// index is the one of the workshop, made anew in memory where it cannot be opened in its file.
func (w *Workshop) index() (*finding.Index, error) {
	w.finder.Lock()
	defer w.finder.Unlock()
	if w.finder.index != nil {
		return w.finder.index, nil
	}
	x, err := finding.Open(w.FindIn)
	if err != nil {
		x, err = finding.Open("")
	}
	w.finder.index = x
	return x, err
}

// LookFor finds what has all of the words; also are what is no part of the record and may be found, too: pages of the
// guide, and what may be done.
func (w *Workshop) LookFor(ctx context.Context, text string, also []finding.Doc) (out FoundThings, err error) {
	x, err := w.index()
	if err != nil {
		return out, err
	}
	if out.Until, err = w.bringIn(ctx, x, also); err != nil {
		return out, err
	}
	hole := holeAsked.FindStringSubmatch(text)
	if hole != nil {
		rows, err := x.Search(ctx, holeAsked.ReplaceAllString(text, " ")+" ", 12, "row")
		if err != nil {
			return out, err
		}
		for _, r := range rows {
			r.Title, r.Path = "hole "+hole[1]+" of "+r.Title, r.Path+"?hole="+hole[1]
			out.Things = append(out.Things, r)
		}
	}
	things, err := x.Search(ctx, text, 24)
	if err != nil {
		return out, err
	}
	out.Things = append(out.Things, things...)
	if out.Log, err = x.Search(ctx, text, 8, finding.Log); err != nil {
		return out, err
	}
	for i := range out.Log {
		out.Log[i].Path = logPath(out.Log[i].ID)
	}
	return out, nil
}

// logPath is where an entry stands in the log.
func logPath(seq string) string {
	n, _ := strconv.ParseInt(seq, 10, 64)
	return "/log?before=" + strconv.FormatInt(n+1, 10) + "#" + seq
}

// bringIn brings what changed since into the index. Of a long log the latest entries come first, the others a part at
// a time; until is the entry before which they are missing.
func (w *Workshop) bringIn(ctx context.Context, x *finding.Index, also []finding.Doc) (until int64, err error) {
	w.finder.Lock()
	defer w.finder.Unlock()
	number := func(name string) int64 {
		n, _ := strconv.ParseInt(x.State(ctx, name), 10, 64)
		return n
	}
	identity, err := w.Ledger.Identity(ctx)
	if err != nil {
		return 0, err
	}
	since, from := number("since"), number("from")
	docs := []finding.Doc(nil)
	now := w.Ledger.Seq()
	if x.State(ctx, "of") != identity+w.build() || now < since { // of another workshop, of one that went on, or nothing yet
		if err := x.Clear(ctx); err != nil {
			return 0, err
		}
		since, from, docs = 0, 0, also
	}
	if now > since {
		err = w.Ledger.View(ctx, func(q *query.Queries) error {
			rows, err := q.Findable(ctx, since)
			for _, r := range rows {
				docs = append(docs, finding.Doc{Sort: r.Sort, ID: r.ID, Title: r.Title, More: listed.Replace(r.More), Place: r.Place, Path: findPath(r), Gone: r.Gone == 1})
			}
			return err
		})
		if err != nil {
			return 0, err
		}
		entries, _, err := w.Ledger.Log(ctx, now+1, int(min(now-since, findables)))
		if err != nil {
			return 0, err
		}
		docs = append(docs, asDocs(entries)...)
		if n := len(entries); n > 0 && (from == 0 || now-since > findables) {
			from = entries[n-1].Seq
		}
	} else if from > 1 { // nothing new: a part of what lies before
		entries, _, err := w.Ledger.Log(ctx, from, findables)
		if err != nil {
			return 0, err
		}
		docs = append(docs, asDocs(entries)...)
		from = 0
		if n := len(entries); n > 0 {
			from = entries[n-1].Seq
		}
	}
	if from <= 1 {
		until = 0
	} else {
		until = from
	}
	if len(docs) == 0 {
		return until, nil
	}
	return until, x.Put(ctx, docs, map[string]string{"of": identity + w.build(), "since": strconv.FormatInt(now, 10), "from": strconv.FormatInt(max(from, 1), 10)})
}

// build tells programs apart whose pages or guide differ.
func (w *Workshop) build() string { return " " + strconv.Itoa(indexed) }

// indexed is raised where what is brought into the index, or its addresses, change.
const indexed = 1

func asDocs(entries []ledger.LogEntry) (out []finding.Doc) {
	for _, e := range entries {
		out = append(out, finding.Doc{Sort: finding.Log, ID: strconv.FormatInt(e.Seq, 10), Title: e.What, More: strings.TrimSpace(e.Detail + " " + e.By + " " + e.At.Format("2 January 2006"))})
	}
	return out
}

// findPath is the page of something that was found.
func findPath(r query.Findable) string {
	in := "?airframe=" + url.QueryEscape(r.Frame)
	switch r.Sort {
	case "aircraft":
		return "/airframes/" + r.Page
	case "assembly":
		return "/assemblies/" + r.Page
	case "setup":
		return "/setups/" + r.Page
	case "check":
		return "/setups/" + r.Page + "?check=" + r.ID
	case "hold":
		return "/holds/" + r.Page
	case "row":
		return "/rows/" + r.Page
	case "bay":
		return "/bays/" + r.Page
	case "photo":
		return "/photos/" + r.Page
	case "instrument":
		return "/instruments#" + r.Page
	case "person":
		return "/people#" + r.Page
	case "slip":
		return "/slips#" + r.Page
	case "question":
		return "/questions" + in + "#" + r.Page
	case "order":
		return "/money" + in + "#" + r.Page
	case "step":
		return "/order" + in + "#" + r.Page
	case "material":
		return "/cures"
	}
	return "/stores" + in + "#" + r.Page
}
