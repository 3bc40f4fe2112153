package web

import (
	"net/http"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/walk"
	"vespers/draw"
)

// walkPage is one stop of the walk-around.
type walkPage struct {
	outingPage
	Scene  draw.Scene
	Phase  machine.Phase
	Points int
	Metres string
	Left   string // minutes left
	Done   []donePoint
	Prev   string
	Next   string

	Setting   *machine.Setting
	Way       *machine.Way
	Condition *machine.Condition // to be told before the point can be answered
	Warm      string             // until when the point has to wait, in words
	WarmLeft  int64              // how long that is, in milliseconds

	Check   *machine.Check
	Where   text.Text
	Item    string
	Reading *readingView
	Number  int // of how many readings
	Of      int
	Last    *givenView
	Right   *rightView
	Correct bool
	Blocked string
	Known   []string // open defects carried in on this point
	Before  string   // what was read at the last outing
	Again   bool     // it may be measured once more
	First   string   // the value it was measured to be before that
	Safety  bool
}

// donePoint is one answer folded above the question.
type donePoint struct {
	Check, Item  string
	Name, Answer string
	Grade        string
}

// givenView is the answer already taken.
type givenView struct {
	outing.Given
	Words, Who, When string
	Reasons          []string
	Grade            defect.Grade
}

// rightView offers to put a finding right now.
type rightView struct {
	Finding string
	Act     text.Text
}

// readingView is a reading in the person's own unit.
type readingView struct {
	*machine.Reading
	Unit  string
	Band  *band
	Marks []markChoice
}

// markChoice is one line of a dipstick.
type markChoice struct {
	Value string
	Words string
	Level string
}

// band shows where a typed value stands; every number is in the person's unit.
type band struct {
	Low, High   float64 // ends of the scale
	Good        [2]float64
	LowText     string
	HighText    string
	Source      string
	Width       float64
	GoodX       float64
	GoodW       float64
	LowX, HighX float64
}

func (s *server) showWalk(v *visit) {
	phase := machine.Cold
	here := outing.StepWalk
	if v.gin.Query("phase") == string(machine.Running) || v.gin.Query("phase") == string(machine.KeyOn) {
		phase, here = machine.Running, outing.StepRunning
	}
	base, ok := s.outing(v, here)
	if !ok {
		return
	}
	page := walkPage{outingPage: base, Phase: phase}
	if base.O.Ready == nil {
		v.gin.Redirect(http.StatusSeeOther, "/outings/"+base.O.ID+"/ready")
		return
	}
	left := base.U.Left(phase)
	if phase == machine.Running {
		left = append(base.U.Left(machine.KeyOn), left...)
	}
	point, item := v.gin.Query("point"), v.gin.Query("item")
	if point == "" && len(left) == 0 {
		v.gin.Redirect(http.StatusSeeOther, next(base.O))
		return
	}
	metres, seconds, points := walk.Left(base.U.Sheet, left)
	page.Points, page.Metres = points, v.Number(metres, 0)
	page.Left = v.Number(max(1, seconds/60), 0)
	switch {
	case point != "":
		if page.Check, ok = base.U.Sheet.Check(point); !ok {
			s.fail(v, errNotFound)
			return
		}
		page.Item = item
	case left[0].Do == walk.Set:
		page.Setting, _ = base.U.Sheet.Setting(left[0].ID)
		page.Way, _ = page.Setting.Way(left[0].To)
	default:
		page.Check, _ = base.U.Sheet.Check(left[0].ID)
	}
	s.fillPoint(v, &page, point != "")
	page.waits(v)
	s.fillDone(v, &page)
	page.Scene = draw.Walk(base.U.Sheet, s.marks(&page))
	title := ""
	if page.Check != nil {
		title = v.Text(page.Check.Name)
	} else {
		title = v.Text(page.Setting.Name)
	}
	v.page(http.StatusOK, "walk", title, page)
}

// waits says what the point waits for that no other point can bring: a
// condition told, or the machine cool.
func (p *walkPage) waits(v *visit) {
	if p.Check == nil || p.Last != nil {
		return
	}
	if until := p.U.CoolAt(p.Check); v.now.Before(until) {
		p.Warm, p.WarmLeft = v.Clock(until), until.Sub(v.now).Milliseconds()
		return
	}
	p.Condition = p.U.Wants(p.Check)
}

// fillPoint prepares the question of a check point.
func (s *server) fillPoint(v *visit, page *walkPage, chosen bool) {
	c := page.Check
	if c == nil {
		return
	}
	page.Safety = c.Class.Decides()
	spot, _ := page.U.Sheet.Spot(c.At)
	page.Where = spot.Name
	items := outing.Items(c)
	// A fault found at the point as a whole is looked at by itself, beside its
	// readings.
	whole := chosen && page.Item == "" && len(page.U.Given(c.ID, "")) > 0
	if open := page.U.Open(c.ID); !chosen || page.Item == "" && items[0] != "" && !whole {
		if len(open) > 0 {
			page.Item = open[0]
		} else {
			page.Item = items[0]
		}
	}
	for i, id := range items {
		if id == page.Item && id != "" {
			page.Number, page.Of = i+1, len(items)
		}
	}
	if r, ok := c.Reading(page.Item); ok {
		page.Reading = v.reading(r.Under(page.U.Conditions))
	}
	if before := page.U.ReadBefore(c.ID, page.Item); before != nil && page.Reading != nil {
		r, _ := c.Reading(page.Item)
		page.Before = v.T("reading.before", "value", v.Amount(text.Measure{Quantity: before.Value.Quantity, Unit: r.Unit}), "when", v.When(before.At, v.now))
	}
	if given := page.U.Given(c.ID, page.Item); len(given) > 0 {
		s.fillLast(v, page, given[len(given)-1])
		page.Again = page.U.MayMeasureAgain(c.ID, page.Item)
		if last := given[len(given)-1]; last.Again && len(given) > 1 {
			page.First = s.givenWords(v, c, given[len(given)-2].Answered)
		}
	}
	for _, d := range page.U.Carried {
		if d.Check == c.ID {
			for _, r := range d.Finding.Reasons {
				page.Known = append(page.Known, v.Reason(r))
			}
		}
	}
	if page.Correct = v.gin.Query("change") == "1"; page.Correct {
		page.Right = nil
	}
	page.Blocked = s.blocked(v, page)
	page.neighbours()
}

func (s *server) fillLast(v *visit, page *walkPage, g outing.Given) {
	last := &givenView{Given: g, Words: s.givenWords(v, page.Check, g.Answered), When: v.When(g.Meta.At, v.now), Grade: g.Finding.Grade}
	if p, err := s.Store.Person(v.ctx(), g.Meta.By); err == nil {
		last.Who = p.Name
	}
	for _, r := range g.Finding.Reasons {
		last.Reasons = append(last.Reasons, v.Reason(r))
	}
	if g.Right != nil {
		last.Words += " → " + s.givenWords(v, page.Check, g.Right.Now)
	} else if act := outing.PutRightAct(page.Check, g.Answered); act != nil && g.Finding.Grade != defect.Sound {
		page.Right = &rightView{Finding: g.Meta.ID, Act: *act}
	}
	if g.Answer != outing.AnswerNotReached {
		page.Last = last
	}
}

// givenWords is an answer in the point's own words.
func (s *server) givenWords(v *visit, c *machine.Check, a outing.Answered) string {
	if f, ok := c.Fault(a.Fault); ok {
		return v.Text(f.Name)
	}
	if a.Answer == outing.AnswerSound && c.Sound != nil {
		return v.Text(*c.Sound)
	}
	return s.answerWords(v, a)
}

// blocked says what has to come before this point, if anything.
func (s *server) blocked(v *visit, page *walkPage) string {
	if page.Last != nil {
		return ""
	}
	probe := outing.Answered{Machine: page.U.Machine, Check: page.Check.ID, Item: page.Item, Answer: outing.AnswerNotReached}
	if err := page.O.Accept(outing.Meta{At: v.now}, probe); err != nil {
		if refused, ok := err.(*outing.Refused); ok {
			return v.Reason(refused.Reason)
		}
	}
	return ""
}

// neighbours finds the points before and after this one on the route.
func (p *walkPage) neighbours() {
	var ids []string
	for _, stop := range p.U.Route {
		if stop.Do == walk.Check && (stop.Phase == machine.Cold) == (p.Phase == machine.Cold) {
			ids = append(ids, stop.ID)
		}
	}
	for i, id := range ids {
		if id != p.Check.ID {
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

// fillDone lists the answers of this phase, newest first.
func (s *server) fillDone(v *visit, page *walkPage) {
	for _, stop := range page.U.Route {
		c, ok := page.U.Sheet.Check(stop.ID)
		if !ok || stop.Do != walk.Check || (c.Phase == machine.Cold) != (page.Phase == machine.Cold) {
			continue
		}
		items := outing.Items(c)
		if items[0] != "" {
			items = append([]string{""}, items...)
		}
		for _, item := range items {
			given := page.U.Given(c.ID, item)
			if len(given) == 0 {
				continue
			}
			g := given[len(given)-1]
			d := donePoint{Check: c.ID, Item: item, Name: v.Text(c.Name), Answer: s.givenWords(v, c, g.Answered), Grade: string(g.Finding.Grade)}
			if r, ok := c.Reading(item); ok {
				d.Name += ", " + lower(v.Text(r.Name))
			}
			if g.Right != nil {
				d.Answer, d.Grade = v.T("walk.put_right_done", "answer", d.Answer), string(defect.Sound)
			}
			page.Done = append([]donePoint{d}, page.Done...)
		}
	}
}

// marks says how each spot of the loop stands.
func (s *server) marks(page *walkPage) []draw.Mark {
	byPlace := map[string]*draw.Mark{}
	var order []string
	here := ""
	if page.Check != nil {
		here = page.Check.At
	} else if page.Setting != nil {
		here = page.Setting.At
	}
	bad := map[string]bool{}
	for _, d := range page.O.Defects() {
		if c, ok := page.U.Sheet.Check(d.Check); ok && d.Machine == page.U.Machine {
			bad[c.At] = true
		}
	}
	for _, stop := range page.U.Route {
		c, ok := page.U.Sheet.Check(stop.ID)
		if !ok || stop.Do != walk.Check || (c.Phase == machine.Cold) != (page.Phase == machine.Cold) {
			continue
		}
		m := byPlace[c.At]
		if m == nil {
			m = &draw.Mark{Spot: c.At, State: "done"}
			byPlace[c.At] = m
			order = append(order, c.At)
		}
		if len(page.U.Open(c.ID)) > 0 {
			m.Count++
			m.State = "ahead"
		}
	}
	var out []draw.Mark
	for _, id := range order {
		m := *byPlace[id]
		switch {
		case id == here:
			m.State = "here"
		case m.State == "done" && bad[id]:
			m.State = "fault"
		}
		out = append(out, m)
	}
	return out
}

// levels are the places on a dipstick that can be told apart by eye, in per
// cent of the band between the marks.
var levels = []struct{ value, key string }{
	{"125", "marks.above"}, {"100", "marks.full"}, {"75", "marks.three_quarters"}, {"50", "marks.half"}, {"25", "marks.quarter"}, {"0", "marks.low"}, {"-25", "marks.below"},
}

// reading prepares a reading for the keypad, in the person's unit.
func (v *visit) reading(r *machine.Reading) *readingView {
	u := v.Voice.Unit(r.Unit)
	view := &readingView{Reading: r, Unit: u.Symbol}
	if r.Kind == "marks" {
		for _, l := range levels {
			view.Marks = append(view.Marks, markChoice{Value: l.value, Words: v.T(l.key), Level: l.value})
		}
	}
	if r.Limits != nil && r.Kind != "marks" {
		view.Band = newBand(v, r, u)
	}
	return view
}

func newBand(v *visit, r *machine.Reading, u unit.Unit) *band {
	in := func(value float64) float64 { return u.In(r.Measure(value).Quantity) }
	low, high := in(r.Range[0]), in(r.Range[1])
	b := &band{Source: v.T("source." + string(r.Limits.Source))}
	good := [2]float64{low, high}
	if r.Limits.Low != nil {
		good[0] = in(*r.Limits.Low)
		b.LowText = v.Amount(r.Measure(*r.Limits.Low))
	}
	if r.Limits.High != nil {
		good[1] = in(*r.Limits.High)
		b.HighText = v.Amount(r.Measure(*r.Limits.High))
	}
	// The scale shows the good band in its middle third or so.
	width := good[1] - good[0]
	switch {
	case r.Limits.Low == nil:
		width = good[1] - low
	case r.Limits.High == nil && r.New != nil:
		good[1] = in(*r.New)
		width = good[1] - good[0]
	case r.Limits.High == nil:
		width = good[0]
		good[1] = min(high, good[0]*1.4)
	}
	b.Low, b.High = max(low, good[0]-width*0.6), min(high, good[1]+width*0.6)
	b.Good = good
	scale := func(value float64) float64 { return 1000 * (value - b.Low) / (b.High - b.Low) }
	b.GoodX, b.GoodW = scale(good[0]), scale(good[1])-scale(good[0])
	b.LowX, b.HighX = scale(good[0]), scale(good[1])
	return b
}
