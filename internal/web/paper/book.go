package paper

import (
	"context"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/core/row"
	"orpine/internal/core/say"
	"orpine/internal/overview"
	"orpine/internal/paper"
	"orpine/internal/photo"
	"orpine/internal/web/ui"
)

// mostPictures is how many photos a book holds: each is read whole.
const mostPictures = 300

// book is the record of an aircraft as a book: what was accepted outside its limits first, then
// assembly by assembly.
func (s sheets) book(c *gin.Context) {
	ctx := c.Request.Context()
	home, err := s.Home(ctx, c.Param("id"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	seq, hash, err := s.Ledger.Head(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	b := paper.Book{Heading: s.Heading("The record of "+home.Airframe.Name, home.Airframe.Description, home.Airframe.Name, "/airframes/"+home.Airframe.ID), Last: fmt.Sprintf("%d:%s", seq, hash)}
	first := paper.Chapter{Title: "Accepted outside limits, and owed an answer"}
	var rest []paper.Chapter
	pictures := 0
	reader := s.Reader(c, home.Airframe.Unit)
	for _, a := range home.Assemblies {
		chapter, dispositions, photos, err := s.chapter(ctx, a.ID, reader)
		if err != nil {
			s.Fail(c, err)
			return
		}
		first.Parts = append(first.Parts, dispositions...)
		for _, p := range photos {
			if pictures++; pictures > mostPictures {
				break
			}
			kind, data, err := s.Photos.Content(ctx, p.ID, false)
			if err != nil {
				s.Fail(c, err)
				return
			}
			chapter.Photos = append(chapter.Photos, paper.BookPhoto{Name: p.ID, Kind: strings.TrimPrefix(kind, "image/"), Caption: p.Caption + ", " + p.At.Format("2 January 2006"), Data: data})
		}
		rest = append(rest, chapter)
	}
	if len(first.Parts) == 0 {
		first.Parts = []paper.Section{{Lines: []string{"Nothing of it was accepted outside its limits, and no stop is owed an answer."}}}
	}
	b.Chapters = append([]paper.Chapter{first}, rest...)
	data, err := b.Print(ui.PaperSize(c))
	s.PDF(c, "record "+home.Airframe.Name, data, err)
}

// chapter is an assembly: measured, decided, done, by whom.
func (s sheets) chapter(ctx context.Context, id string, reader say.Reader) (c paper.Chapter, dispositions []paper.Section, photos []photo.Photo, err error) {
	measured, decided := paper.Section{Title: "Measured"}, paper.Section{Title: "Decided and done"}
	write := func(to *paper.Section, format string, args ...any) {
		to.Lines = append(to.Lines, reader.Text(fmt.Sprintf(format, args...)))
	}
	var r overview.Record
	for page := 1; page > 0; page = r.More {
		if r, err = s.Record(ctx, id, page); err != nil {
			return c, nil, nil, err
		}
		for _, setup := range r.Assembly.Setups {
			for _, check := range setup.Checks {
				found, verdict := "not complete", ""
				if check.Solved {
					found, verdict = check.Answer, fmt.Sprintf("; %s", check.Verdict)
				}
				write(&measured, "%s, %s: %s%s (%d of %d readings)", setup.Name, check.Name, found, strings.TrimSuffix(verdict, "; none"), check.Taken, check.Wanted)
			}
		}
	}
	c.Title = r.Assembly.Name
	if r.Assembly.Before != "" {
		c.Parts = append(c.Parts, paper.Section{Lines: []string{"Permanent before this record began: " + r.Assembly.Before + "."}})
	}
	for _, d := range r.Dispositions {
		dispositions = append(dispositions, paper.Section{Title: r.Assembly.Name + ": " + d.Hold, Lines: []string{fmt.Sprintf("%s answered %s: “%s” %s", d.AnsweredBy, d.Answered, d.Answer, d.Document), fmt.Sprintf("Released by %s, %s", d.By, d.At.Format("2 January 2006"))}})
		photos = append(photos, d.Letters...)
	}
	for _, h := range r.Assembly.Holds {
		if h.Judgement.Standing.String() == "stop" && h.ReleaseID == "" {
			t := h.Judgement.Telling()
			dispositions = append(dispositions, paper.Section{Title: r.Assembly.Name + ": " + h.Name + ", owed an answer", Lines: []string{reader.Text(t.What + ": " + t.Why)}})
		}
		write(&decided, "%s (%s): %s", h.Name, h.Step, h.Permanent)
		for _, release := range h.Releases {
			write(&decided, "   released by %s, %s, evidence %s %s%s", release.By, release.At.Format("2 January 2006 15:04"), release.Standing, release.Reason, wrongly(release.Wrong))
			if release.Done != nil {
				write(&decided, "   done by %s, %s %s", release.Done.By, release.Done.At.Format("2 January 2006 15:04"), release.Done.Note)
			}
		}
	}
	c.Parts = append(c.Parts, measured, decided, rows(r, reader))
	for _, b := range r.BayRecords {
		part := paper.Section{Title: "Closed in: " + b.Name}
		for _, t := range b.Tasks {
			by := "open"
			if t.By != "" {
				by = "done by " + t.By
			}
			write(&part, "%s, %s %s", t.What, by, t.Note)
		}
		c.Parts = append(c.Parts, part)
		photos = append(photos, b.Photos...)
	}
	parts := paper.Section{Title: "Parts and slips"}
	for _, p := range r.Parts {
		write(&parts, "%s, %s, label %s, lot %s %s", p.Number, p.Name, p.Hand, p.Lot, p.Condition)
		photos = append(photos, p.Photos...)
	}
	for _, slip := range r.Slips {
		write(&parts, "%s: %s, %s %s", slip.At.Format("2 January 2006"), slip.Cause, slip.Place, slip.What)
	}
	c.Parts = append(c.Parts, parts)
	for i := range c.Parts {
		if len(c.Parts[i].Lines) == 0 {
			c.Parts[i].Lines = []string{"–"}
		}
	}
	return c, dispositions, photos, nil
}

func wrongly(why string) string {
	if why == "" {
		return ""
	}
	return "; it rested on what was wrong: " + why
}

func rows(r overview.Record, reader say.Reader) paper.Section {
	out := paper.Section{Title: "Rows"}
	for _, w := range r.RowRecords {
		line := fmt.Sprintf("%s: %d holes, %s %s; %s", w.Name, len(w.Holes), w.Fastener.Sort, w.Fastener.Size, w.Says)
		for _, by := range w.SetBy {
			line += fmt.Sprintf("; %d set by %s %s", by.Rivets, by.By, by.Crew)
		}
		if len(w.Replaced) > 0 {
			line += "; replaced " + row.Runs(w.Replaced)
		}
		if len(w.Oversize) > 0 {
			line += "; oversize " + row.Runs(w.Oversize)
		}
		if len(w.Abandoned) > 0 {
			line += "; abandoned " + row.Runs(w.Abandoned)
		}
		for _, k := range w.Kept {
			line += "; stays open: " + k
		}
		out.Lines = append(out.Lines, reader.Text(line))
	}
	return out
}
