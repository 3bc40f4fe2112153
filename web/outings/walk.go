package outings

// The walk-around, a point at a time.

import (
	"net/http"
	"net/url"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/walk"
	"vespers/draw"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// walkPage is one stop of the walk-around.
type walkPage struct {
	common
	Scene    draw.Scene
	Map      string // what it shows, in words
	Phase    machine.Phase
	Points   int
	Metres   string
	Left     string // minutes left
	Done     []donePoint
	Prev     string
	Next     string
	Stations []choice

	Settings  []settingView  // to be changed first, one after the other
	Condition *conditionView // to be told before the point can be answered
	Warm      *wait          // for the point to cool

	Point   *pointView
	Item    string
	Where   string
	Reading *readingView
	Number  int // of how many readings
	Of      int
	Last    *givenView
	Right   string // what may be done about the finding on the spot
	Correct bool
	Blocked string
	Known   []string // open defects carried in on this point
	Before  string   // what was read at the last outing
	Again   bool     // it may be measured once more
	First   string   // the value it was measured to be before that
	Worse   string   // the second value, where the first is the worse and counts
	// Back: a fault that stands may be taken back; Seen are who may see that it is
	// none, where safety hangs on it.
	Back    bool
	Further bool        // the answer is to a further fault, beside another
	More    []moreFault // that may be wrong here too
	Slip    bool        // the first reading may be said to have been a slip
	Seen    []choice
	// Day is how the day is that the answer hangs on, which may be told another
	// way.
	Day    *conditionView
	Safety bool
	NotOn  string // what the operator has not on yet
}

// moreFault is a further fault of a point, and the item it is answered under.
type moreFault struct{ ID, Item, Name string }

// settingView is a setting to be changed first.
type settingView struct{ ID, To, Name, Do, Hazard string }

// conditionView is a condition of the day with its answers.
type conditionView struct {
	ID, Name string
	Choices  []choice
}

// pointView is a check point in the reader's words.
type pointView struct {
	ID, Name, Look   string
	How, Why, Hazard string
	Sound            string // a plainer word for sound, where the point has one
	Faults           []fault
}

func newPoint(v *page.Visit, c *machine.Check) *pointView {
	p := &pointView{ID: c.ID, Name: v.Text(c.Name), Look: v.Text(c.Look), Why: v.Text(c.Why)}
	for _, one := range []struct {
		text *text.Text
		into *string
	}{{c.How, &p.How}, {c.Hazard, &p.Hazard}, {c.Sound, &p.Sound}} {
		if one.text != nil {
			*one.into = v.Text(*one.text)
		}
	}
	for _, f := range c.Faults {
		one := fault{ID: f.ID, Name: v.Text(f.Name)}
		if picture, drawn := draw.FaultPicture(f); drawn {
			one.Picture = &page.SceneView{Voice: v.Voice, Scene: picture}
		}
		p.Faults = append(p.Faults, one)
	}
	return p
}

// fault is a way a point can be not sound; Picture how far gone that is, where one tells.
type fault struct {
	ID, Name string
	Picture  *page.SceneView
}

// donePoint is one answer folded above the question.
type donePoint struct {
	Check, Item  string
	Name, Answer string
	Grade        string
}

// givenView is the answer already taken.
type givenView struct {
	ID               string // of its record
	Words, Who, When string
	Reasons          []string
	Grade            string
	Note             string
	Noted            []noted
	Until            string   // a Mend: until when it may go out
	Limits           []string // what it takes away
	MayBe            []string // worse grades that it may be made
}

// noted is what was added to a finding.
type noted struct{ Photo, Note string }

var walkPages = page.New[walkPage](templates, "walk")

func showWalk(v *page.Visit) {
	phase, here := machine.Cold, outing.StageWalk
	if v.Query("phase") == string(machine.Running) {
		phase, here = machine.Running, outing.StageRunning
	}
	base, ok := load(v, here)
	if !ok {
		return
	}
	p := walkPage{common: base, Phase: phase}
	if base.o.Ready() == nil {
		v.Go("/outings/" + base.Outing + "/ready")
		return
	}
	left := base.o.ToLook(here, base.u)
	point := v.Query("point")
	if point == "" && len(left) == 0 {
		if to := next(v, base.o); !strings.HasSuffix(to, pathOf(here)) {
			v.Go(to)
			return
		}
		v.Go("/outings/" + base.Outing + "/verdict")
		return
	}
	metres, seconds, points := walk.Left(base.u.Sheet, left)
	p.Points, p.Metres = points, v.Number(metres, 0)
	p.Left = v.Number(max(1, seconds/60), 0)
	var c *machine.Check
	title, at := "", ""
	switch {
	case point != "":
		if c = base.u.Check(point); c == nil {
			v.Fail(store.ErrNotFound)
			return
		}
		p.Item = v.Query("item")
	case left[0].Do == walk.Set:
		for _, stop := range left {
			if stop.Do != walk.Set {
				break
			}
			p.setting(v, stop)
		}
		title, at = p.Settings[0].Name, left[0].At
	default:
		c = base.u.Check(left[0].ID)
	}
	if c != nil {
		p.point(v, c, point != "")
		p.waits(v, c)
		title, at = p.Point.Name, c.At
	}
	var bare []string
	for _, one := range p.o.NotOn() {
		bare = append(bare, tell.Lower(v.Text(one)))
	}
	p.NotOn = strings.Join(bare, "; ")
	p.done(v)
	p.Scene = draw.Walk(base.u.Sheet, p.marks(at))
	spot, _ := base.u.Sheet.Spot(at)
	p.Map = v.T("walk.map_at", "where", v.Text(spot.Name), "n", openAt(base.u.State, left, at), "left", points)
	for _, s := range base.u.Sheet.Loop.Stations {
		p.Stations = append(p.Stations, choice{ID: s.ID, Name: v.Text(s.Name)})
	}
	if p.Reading != nil {
		title += ", " + p.Reading.Name
	}
	walkPages.Show(v, http.StatusOK, title+" · "+p.Name, p)
}

func (p *walkPage) setting(v *page.Visit, stop walk.Stop) {
	setting, _ := p.u.Sheet.Setting(stop.ID)
	way, _ := setting.Way(stop.To)
	one := settingView{ID: setting.ID, To: way.ID, Name: v.Text(setting.Name), Do: v.Text(way.Do)}
	if way.Hazard != nil {
		one.Hazard = v.Text(*way.Hazard)
	}
	p.Settings = append(p.Settings, one)
}

// waits says what the point waits for that no other point can bring: a
// condition told, or the machine cool.
func (p *walkPage) waits(v *page.Visit, c *machine.Check) {
	if p.Last != nil {
		return
	}
	if until, hot := p.u.Hot(c, v.Now); hot {
		p.Warm = newWait(v, until, time.Duration(c.Cool*float64(time.Minute)))
		return
	}
	if wants := p.u.Wants(c); wants != nil {
		p.Condition = &conditionView{ID: wants.ID, Name: v.Text(wants.Name)}
		for _, one := range wants.Choices {
			p.Condition.Choices = append(p.Condition.Choices, choice{ID: one.ID, Name: v.Text(one.Name)})
		}
	}
}

// point prepares the question of a check point.
func (p *walkPage) point(v *page.Visit, c *machine.Check, chosen bool) {
	p.Point = newPoint(v, c)
	p.Safety = c.Class.Decides()
	spot, _ := p.u.Sheet.Spot(c.At)
	p.Where = v.Text(spot.Name)
	items := inspect.Items(c)
	// A fault found at the point as a whole is looked at by itself, beside its
	// readings.
	whole := chosen && p.Item == "" && len(p.u.Given(c.ID, "")) > 0
	if open := p.u.Open(c.ID); !chosen || p.Item == "" && items[0] != "" && !whole {
		if len(open) > 0 {
			p.Item = open[0]
		} else {
			p.Item = items[0]
		}
	}
	for i, id := range items {
		if id == p.Item && id != "" {
			p.Number, p.Of = i+1, len(items)
		}
	}
	if r, ok := c.Reading(p.Item); ok {
		p.Reading = newReading(v, c, p.u.Under(r))
		if before := p.u.ReadBefore(c.ID, p.Item); before != nil {
			p.Before = readBefore(v, c, *before, p.u.Under(r))
		}
	}
	if given := p.u.Given(c.ID, p.Item); len(given) > 0 {
		last, _ := p.u.Last(c.ID, p.Item)
		latest := given[len(given)-1]
		p.last(v, c, last)
		p.Again = p.u.MayMeasureAgain(c.ID, p.Item)
		switch {
		case last.Meta.ID != latest.Meta.ID && last.Right == nil:
			p.Worse = tell.Given(v.Voice, c, latest.Answered)
		case last.Again && len(given) > 1:
			p.First = tell.Given(v.Voice, c, given[len(given)-2].Answered)
		}
		p.back(v, c, last)
	}
	p.Further = inspect.IsFurther(c, p.Item)
	for _, f := range p.u.More(c) {
		p.More = append(p.More, moreFault{ID: f.ID, Item: inspect.Also(f.ID), Name: v.Text(f.Name)})
	}
	p.day(v, c)
	for _, d := range p.u.Carried {
		if d.Check == c.ID {
			reasons, _ := tell.Reasons(v.Voice, d.Finding)
			p.Known = append(p.Known, reasons...)
		}
	}
	if p.Correct = v.Query("change") == "1"; p.Correct {
		p.Right = ""
	}
	p.Blocked = p.blocked(v, c)
	p.neighbours(c)
}

// day offers to tell the condition another way that a reading hangs on.
func (p *walkPage) day(v *page.Visit, c *machine.Check) {
	r, ok := c.Reading(p.Item)
	if !ok || r.Limits == nil || r.Limits.By == "" || p.o.Status != outing.Open {
		return
	}
	told := p.u.Told(r.Limits.By)
	condition, known := p.u.Sheet.Condition(r.Limits.By)
	if told == "" || !known {
		return
	}
	p.Day = &conditionView{ID: condition.ID, Name: v.Text(condition.Name)}
	for _, one := range condition.Choices {
		p.Day.Choices = append(p.Day.Choices, choice{ID: one.ID, Name: v.Text(one.Name), Chosen: one.ID == told})
	}
}

// back prepares taking back a fault that stands, or saying that the first of two
// readings was a slip where the worse would count.
func (p *walkPage) back(v *page.Visit, c *machine.Check, last inspect.Given) {
	back, second := p.u.TakesBack(last)
	p.Back, p.Slip = back, p.u.MaySlip(c.ID, p.Item)
	if !p.Slip && !second {
		return
	}
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		v.Site.Log.Error("who may see it", "error", err)
	}
	for _, other := range p.o.Mates(people) {
		p.Seen = append(p.Seen, choice{ID: other.ID, Name: other.Name})
	}
}

func readBefore(v *page.Visit, c *machine.Check, b inspect.Before, r *machine.Reading) string {
	return v.T("reading.before", "value", tell.Reading(v.Voice, c, r, b.Value.Quantity), "when", v.When(b.At, v.Now))
}

func (p *walkPage) last(v *page.Visit, c *machine.Check, g inspect.Given) {
	finding := p.u.Judged(g)
	last := &givenView{ID: g.Meta.ID, Words: tell.Given(v.Voice, c, g.Answered), Who: v.Name(g.Meta.By), When: v.When(g.Meta.At, v.Now), Grade: string(finding.Grade), Note: g.Note}
	for _, grade := range p.u.Worse(g) {
		last.MayBe = append(last.MayBe, string(grade))
	}
	if finding.Grade == defect.Mend {
		last.Until = tell.Deadline(v.Voice, finding.Deadline)
	}
	for _, n := range g.Noted {
		last.Noted = append(last.Noted, noted{Photo: n.Photo, Note: n.Note})
	}
	last.Reasons, last.Limits = tell.Reasons(v.Voice, finding)
	if g.Right != nil {
		last.Words += " → " + tell.Given(v.Voice, c, g.Right.Now)
	} else if p.u.Mendable(g) {
		p.Right = v.Text(*inspect.PutRightAct(c, g.Answered))
	}
	if g.Answer != inspect.NotReached {
		p.Last = last
	}
}

// blocked says what has to come before this point, if anything.
func (p *walkPage) blocked(v *page.Visit, c *machine.Check) string {
	if p.Last != nil {
		return ""
	}
	view, _ := v.Site.Store.View(v.Context())
	probe := outing.Answer{Answer: inspect.Answer{Machine: p.Machine, Check: c.ID, Item: p.Item, Answer: inspect.NotReached}}
	operator, _ := view.Person(p.o.Operator())
	if refused := p.o.MayNow(probe, operator, v.Now, view); refused != nil {
		return v.Reason(refused.Reason)
	}
	return ""
}

// neighbours finds the points before and after this one on the route.
func (p *walkPage) neighbours(c *machine.Check) {
	var ids []string
	for _, stop := range p.u.Route {
		if stop.Do == walk.Check && p.sameWalk(stop.Phase) {
			ids = append(ids, stop.ID)
		}
	}
	for i, id := range ids {
		if id != c.ID {
			continue
		}
		if i > 0 {
			p.Prev = ids[i-1]
		}
		if i+1 < len(ids) {
			p.Next = ids[i+1]
		}
	}
}

// sameWalk reports whether a phase belongs to the walk that is shown.
func (p *walkPage) sameWalk(phase machine.Phase) bool {
	return (phase == machine.Running) == (p.Phase == machine.Running)
}

// done lists the answers of this phase, newest first.
func (p *walkPage) done(v *page.Visit) {
	grades := map[string]defect.Grade{}
	for _, f := range p.u.Found() {
		grades[f.ID] = f.Finding.Grade
	}
	for _, stop := range p.u.Route {
		c := p.u.Check(stop.ID)
		if c == nil || stop.Do != walk.Check || !p.sameWalk(c.Phase) {
			continue
		}
		for _, item := range p.u.Places(c) {
			g, ok := p.u.Last(c.ID, item)
			if !ok {
				continue
			}
			d := donePoint{Check: c.ID, Item: item, Name: v.Text(c.Name), Answer: tell.Given(v.Voice, c, g.Answered), Grade: string(g.Finding.Grade)}
			if grade, stands := grades[g.Meta.ID]; stands {
				d.Grade = string(grade)
			}
			if r, ok := c.Reading(item); ok {
				d.Name += ", " + tell.Lower(v.Text(r.Name))
			}
			if g.Right != nil {
				d.Answer, d.Grade = v.T("walk.put_right_done", "answer", d.Answer), "sound"
			}
			p.Done = append([]donePoint{d}, p.Done...)
		}
	}
}

// answer is an answer to a point as the form says it.
func answer(v *page.Visit) inspect.Answer {
	return inspect.Answer{Machine: v.Field("machine"), Check: v.Field("check"), Item: v.Field("item"), Answer: v.Field("answer"), Fault: v.Field("fault"),
		Note: v.Field("note"), Typed: v.Field("typed"), Unit: v.Field("unit"), Again: v.Field("again") == "1", Why: v.Field("why"), Second: v.Field("second")}
}

// answerPoint leads on to putting right what was found, where that can be done
// on the spot.
func answerPoint(v *page.Visit) {
	a := answer(v)
	if a.Second != "" && !v.SecondPIN(a.Second) {
		return
	}
	o, ok := v.SayIn(outing.Answer{Answer: a})
	if !ok {
		return
	}
	if u := o.Unit(a.Machine); u != nil {
		// What is not sound is shown with its grade and why, before anything else.
		if g, given := u.Last(a.Check, a.Item); given && (u.Mendable(g) || g.Finding.Grade != "" && u.Judged(g).Grade != defect.Sound) {
			v.Saved(pointPath(o, a.Machine, a.Check, a.Item))
			return
		}
	}
	v.Saved(next(v, o))
}

// pointPath is the page of one point.
func pointPath(o *outing.Outing, machineID, check, item string) string {
	phase := machine.Cold
	if c := o.Unit(machineID).Check(check); c != nil {
		phase = c.Phase
	}
	return "/outings/" + o.ID + "/walk?machine=" + machineID + "&point=" + check + "&item=" + url.QueryEscape(item) + "&phase=" + string(phase)
}

func putRight(v *page.Visit) { say(v, outing.PutRight{Finding: v.Field("finding"), Now: answer(v)}) }

func reroute(v *page.Visit) {
	say(v, outing.Reroute{Machine: v.Field("machine"), From: v.Field("from")})
}

func tellCondition(v *page.Visit) {
	say(v, outing.Tell{Conditioned: inspect.Conditioned{Machine: v.Field("machine"), Condition: v.Field("condition"), Choice: v.Field("choice")}})
}

func changeSetting(v *page.Visit) {
	var parts []outing.Command
	to := v.Fields("to")
	for i, setting := range v.Fields("setting") {
		if i < len(to) {
			parts = append(parts, outing.ChangeSetting{Set: inspect.Set{Machine: v.Field("machine"), Setting: setting, To: to[i]}})
		}
	}
	if len(parts) == 0 || len(parts) != len(to) {
		v.Fail(page.ErrForm)
		return
	}
	if o, ok := v.SayParts(parts); ok {
		v.Saved(next(v, o))
	}
}
