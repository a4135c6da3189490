// Package guide is short pages for the bench, each one screen, reached from where its question
// arises, and a list of the words that the sheets use.
package guide

import (
	"embed"
	"html/template"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"orpine/internal/finding"
	"orpine/internal/ledger"
	"orpine/internal/web/kinds"
	"orpine/internal/web/ui"
)

//go:embed templates/*.html
var templates embed.FS

// Page is one page of the guide.
type Page struct {
	ID, Title string
	Pictures  []string // kinds of checks whose drawing stands on it, where it is of measuring
	Do        []string // what is done, in order
	Because   string   // why, in a line or two
	Never     string   // what it must not be taken for
}

// Pages are all of them, in the order of the work.
var Pages = []Page{
	{"level", "Prove a level", []string{"zero-test", "level"},
		[]string{"Lay it on any spot that does not move, and read it.", "Turn it end for end on the same marks, and read it again.", "Half the sum is the level's own error; half the difference is the slope of the spot.", "Ten times anew on one spot shows its spread: lift it off each time."},
		"Every angle that follows carries the level's own error, unless both readings were taken the same way round.", "A level that was right yesterday is not proven today."},
	{"bench", "Rails or part?", []string{"bench", "separate"},
		[]string{"Survey the rails first: heights at each support, all with one instrument.", "Say whether the part is flexible or held down, or stiff and lying free: a flexible one takes the shape of the rails.", "Of a flexible part the slope of the rails is taken off at each station; of a stiff one it is not.", "Or roll the part over on the same supports: what turns with it is the part's."},
		"Rails that wind look just like a part that does. No turning of a part tells its twist from the bench's: twist keeps its hand.", "Two heights read with two instruments do not cancel."},
	{"twist", "Twist", []string{"twist"},
		[]string{"Hands off. Place the level along the chord, the same way round at every station.", "Root, middle, tip: three stations show a kink, two only a twist.", "Twist is tip less root; washout is minus.", "Move it, press Something moved, and read it again: nothing is assumed."},
		"A difference of two readings the same way round is free of the level's own error.", "A surface pushed straight by hand is not straight."},
	{"square", "Square to the middle", []string{"square", "diagonals"},
		[]string{"Tapes from a point on the centreline to both tips, at the same height.", "Then from a second point, far from the first: one pair cannot tell skew from side-shift.", "Diagonals of a bay: two that are equal make it square, if opposite sides are equal too.", "Pull the tape alike each time; hook or burn an inch, and take it off."},
		"The longer the arm, the less a millimetre of tape says in degrees.", "Points are not exact: say how well yours are known."},
	{"incidence", "Incidence", []string{"incidence", "decalage"},
		[]string{"The board on the section at the same station on both sides; turn it end for end for its bow.", "The level of the airframe is read too, and taken off.", "Left, right, their mean and their difference are four questions.", "Canard: the foreplane's angle above the wing's, hands off."},
		"A tenth of a degree between the sides is a hand on the stick for ever.", "A canard must stall first: the designer's figures govern."},
	{"fin", "The fin", []string{"upright", "straightness"},
		[]string{"Read both faces: the mean of two faces is the fin, one face is its taper too.", "Take off the roll of the fuselage.", "Sight its spar for bow before the rudder's hinges follow it."},
		"A fin that leans or twists steers for ever.", "A plumb line in a draught is no plumb line."},
	{"tail", "Joining a tail", []string{"pairs", "brackets"},
		[]string{"Every tape, height and level that can be taken counts; each alone is weak.", "Take what the sheet asks for next: the dashed tape says most.", "A reading that does not fit the others is marked: read it again before anything is moved.", "Move what may be moved, press Something moved, and read what is stale."},
		"Together the readings say where the surface is, how sure that is, and which of them is wrong.", "What no reading sees is called not seen, and is no go."},
	{"holds", "Holds", []string{"engine-mount"},
		[]string{"A hold stands before each step that cannot be undone.", "Each line says what is shown and what is not; the button beside it mends it.", "Release by name. If anything moves before the step is done, the release lapses.", "After riveting or bonding measure once more: the record shows what the metal kept."},
		"Drill, rivet, bond and close are done once.", "A stop is released only by an answer of someone with authority, and stays on the assembly."},
	{"rows", "Rows of holes", []string{"solid-rivet", "flush-stack"},
		[]string{"Point at the first and the last hole, or paste the call-out list as the plans print it; say the layers from the head inwards.", "Mark what later parts need before the first rivet.", "Drill under a released hold, take apart, deburr both faces, clear the chips, prime, refit.", "Pin, set, look: a bad one is logged with its cause and drilled out."},
		"A rivet in a hole that a later part needs is drilled out with the hole around it.", "A longer rivet tends to tip over; a shorter one holds less than it looks."},
	{"closing", "Closing", []string{"tank-leak"},
		[]string{"Count what goes in before the first cleco, and count it out.", "Wiring, primer, pipes, inspection: what will be out of reach?", "Photograph it; nobody can look again.", "Holes that stay open inside: can they still be reached?"},
		"What is closed in too early is opened with a drill.", "Nothing counted is not nothing inside: look."},
	{"finish", "When it is finished", nil,
		[]string{"The build is played some hundred times, with all that is doubtful drawn anew: pace, hours, visits, evenings, orders, savings.", "Eight in ten plays end in the band; the circle is the plan alone. Each line below is how many days that alone moves the finish: begin with the longest.", "Say when you work, when you are away and when somebody comes; tell afterwards what you did.", "Where it says never: put a later visit in, or say how the rest is paid."},
		"Your own months tell more of your pace than any list of hours.", "A date without its band is a wish."},
	{"putting-right", "Putting right", nil,
		[]string{"Undo, at the foot of every sheet, names the last thing that you entered, and takes it back or leads to where that is done.", "Take back stands beside each count, tick, proof and photo: say why, by name.", "What was set up wrong is changed by put right beside it; something moved, by mistake, on its setup.", "What rests on an entry is named, and the entry stays: take that back first."},
		"The log keeps both, with the reason.", "Nothing is put right by entering it twice."},
	{"where", "Where to press for what", nil,
		[]string{"Is it true? Measure. May I drill, rivet or close? Holds. What is next, and with whom? Work. Where is it, and is there enough? Parts. What was done, by whom? Record. Tonight has what waits for you.", "The letter on a tab goes there from every sheet; / finds a part, a hole, a reading or a command; ? shows the keys.", "The circle on a drawing is a place: press it to read there. The circle with ? beside a verdict leads to its page here.", "Show the arithmetic, under each answer, is the whole way from the readings to the figure."},
		"One sheet for one question: what it needs from another stands on it as a link.", "A letter of a tab never writes anything; keys that write are shown on the sheet itself."},
	{"people", "People and phones", nil,
		[]string{"Alone on this machine nobody signs in. Under People the first builder is named; from then on each has an account and a role.", "A helper reads and counts; a builder releases; an inspector answers and signs; a viewer looks.", "Started for the shop's network, it shows a code: a phone opens it once, and is that person's until it is ended there.", "Without a network a phone keeps what is typed and sends it later, with the time at which it was read. What has moved since is shown, and not forced in."},
		"The name on a release is the name of whoever signed in.", "A telephone that was lost is ended under People, from any other."},
	{"stores", "Parts and stores", nil,
		[]string{"Write down each part with its number, hand, lot and place; a table brings the whole packing list in.", "A part's hand is unknown until somebody says it; its label alone is no evidence.", "Rivets, shims and sealant are counted in, by number or by weight; rows and clocks draw from the lot in use.", "A maker's notice is typed as it came: it names what it reaches, how deep that lies, and what nobody can tell and must be looked at."},
		"A lot that was written down takes a minute; one that was not takes the wing apart.", "Not affected is said with what is written on each, so that you can see it for yourself."},
	{"paper", "Paper", nil,
		[]string{"Paper prints bench cards to fill in with a pencil, the sheets of a setup, boards to cut, and the book.", "A printed card has a code that leads back to its own setup; what was written on it is typed in on one page.", "Choose the paper once: A4 or Letter. Print at actual size, and measure the square on the sheet before you cut.", "The book is the record of an aircraft for whoever comes to look at it: figures with ±, names, photos, lots, hours."},
		"A card on the bench does not mind glue.", "A board that was printed fit to page is the wrong size."},
	{"files", "Files", nil,
		[]string{"Each setup can be taken away as a worksheet, each plan as a plan: both are read by the same program from the command line.", "Tables come in and go out as CSV; the sheet shows first how it was read, and nothing is kept before you agree.", "The whole workshop, or one aircraft with all that belongs to it, is one file: it opens in another workshop with its record.", "Copies are made every night, and each is opened and compared once; where one fails, every sheet says so."},
		"What is in open files is yours, whatever becomes of this program.", "A copy on the same disk is no copy."},
	{"unsure", "When it says unsure", []string{"level"},
		[]string{"The interval reaches over a limit: the readings cannot decide.", "Do what it asks: more placings a little beside the last, a finer instrument, another point.", "What nobody stated is not sure: say it from the plans, and it is judged anew.", "It may be released with a written reason: that is on the record, with your name."},
		"Most wrong holes were drilled on a reading that was nearly good enough.", "Placing it again on the very same spot repeats its error."},
	{"stop", "When it says stop", []string{"gap"},
		[]string{"The value lies outside its limits by more than its ±.", "Read it once more before anything is moved.", "Move what it says, press Something moved, and read again.", "If it cannot be moved: ask the kit maker or the inspector, and keep the answer here."},
		"Out of limits is a question for someone with authority, and not for a file.", "The program never blesses a part that is outside."},
}

// Routes registers the pages.
func Routes(u *ui.UI) {
	u.Pages(templates)
	for _, p := range Pages {
		u.Findable(finding.Doc{Sort: "guide", ID: p.ID, Title: p.Title, More: strings.Join(p.Do, " ") + " " + p.Because + " " + p.Never, Path: "/guide/" + p.ID})
	}
	for _, w := range Words {
		u.Findable(finding.Doc{Sort: "guide", ID: "word " + w.Word, Title: w.Word, More: w.Means, Path: "/guide/words#" + slug(w.Word)})
	}
	u.GET("/guide/words", func(c *gin.Context) { showWords(u, c) })
	u.GET("/guide", func(c *gin.Context) { show(u, c, Pages, "A guide at the bench") })
	u.GET("/guide/:page", func(c *gin.Context) {
		i := slices.IndexFunc(Pages, func(p Page) bool { return p.ID == c.Param("page") })
		if i < 0 {
			u.Fail(c, ledger.ErrNotFound)
			return
		}
		show(u, c, Pages[i:i+1], Pages[i].Title)
	})
}

// view is one page, or all of them in a list.
type view struct {
	List []pageView
	All  []Page
	One  bool
}

type pageView struct {
	Page
	Drawings []template.HTML
}

func show(u *ui.UI, c *gin.Context, pages []Page, title string) {
	v := view{All: Pages, One: len(pages) == 1}
	for _, p := range pages {
		one := pageView{Page: p}
		for _, kind := range p.Pictures {
			one.Drawings = append(one.Drawings, kinds.Pictogram(kind))
		}
		v.List = append(v.List, one)
	}
	p := u.Page(c, "", title, v, ui.Footing{Label: "guide", Text: title}, ui.Footing{Label: "sheet", Text: "G"})
	p.Unit = u.ShopUnit(c.Request.Context())
	u.Render(c, 0, "guide", p)
}
