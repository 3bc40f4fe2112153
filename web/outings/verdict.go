package outings

// The verdict, the release and the slip.

import (
	"math"
	"net/http"
	"strings"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/tell"
	"vespers/web/page"
)

// verdictPage is the go / not-for card.
type verdictPage struct {
	common
	Type, Edition string
	Outcome       string
	Grade         string
	Hours         float64
	Released      bool
	Look          *checkIn
	NotParked     string // the machine that has to be shut down before it is home
	Ended         string // when and by whom it ended, "" while it has not
	Plan          planned
	Repair        *repairCard // what it proves, nil for an outing that goes out
	Cleared       []page.UseWords
	NotFor        []page.UseWords
	Missing       []missingWords
	Shortest      string // the shortest way to a release, where several things are missing
	Found         []page.Found
	Until         string
	MayRelease    bool
	MayEnd        bool
	Second        []choice // who may stand by, where somebody has to
	Hand          []choice // to whom it can be handed over
	Numbers       []page.NumberView
	Kept          []string         // house rules for the work
	Mow           *mowWords        // today's direction on fine turf
	LooksOver     []lookOver       // after events, before it goes on
	Drawings      []page.SceneView // each machine, with where something was found
	Tests         string
	Unseen        []string
	Left          []page.LeftWords // what a model of the yard's own does without
	Cautions      []string
	Exposure      []string
	By            string          // who released it, with whom, when
	Answered      []string        // whose it was, and who answered
	Bays          string          // where the machines stand
	Has           []string        // how the options of the machines stand
	Company       []string        // who is about, and when somebody looks for the operator
	Hired         []string        // what to do with a hired machine that stands still
	Break         string          // when it was looked round at a break, and what was left
	Happens       []machineEvents // what is done first when something happens
	MayBreak      bool            // there is something to look at again at a break
	Anchor        string          // the end of the log, for whoever keeps the slip
}

// missingWords is what keeps an outing in: where it is mended, and at what cost.
type missingWords struct{ Words, Link, Do, Cost string }

func newMissing(v *page.Visit, o *outing.Outing, m outing.Missing) missingWords {
	w := missingWords{Words: v.Reason(m.Reason), Link: "/outings/" + o.ID + "/" + pathOf(m.Step), Do: v.T("mend." + string(m.Step))}
	switch {
	case m.Acts > 0 && m.Seconds > 0:
		w.Cost = v.T("missing.cost", "acts", m.Acts, "minutes", max(1, int(math.Ceil(m.Seconds/60))))
	case m.Acts > 0:
		w.Cost = v.T("missing.acts", "acts", m.Acts)
	}
	return w
}

var (
	verdictPages = page.New[verdictPage](templates, "verdict")
	slipPages    = page.New[verdictPage](templates, "slip")
)

func showVerdict(v *page.Visit) {
	if p, ok := verdict(v); ok {
		verdictPages.Show(v, http.StatusOK, v.T("stage.verdict"), p)
	}
}

// showSlip is the release slip, made to be printed and kept in the cab; a Halt
// prints as the tag.
func showSlip(v *page.Visit) {
	p, ok := verdict(v)
	if !ok {
		return
	}
	anchor, err := v.Site.Store.Anchor(v.Context())
	if err != nil {
		v.Fail(err)
		return
	}
	p.Anchor, p.Happens = anchor.String(), events(v, p.o)
	slipPages.Show(v, http.StatusOK, p.Names, p)
}

func verdict(v *page.Visit) (verdictPage, bool) {
	base, ok := load(v, outing.StageVerdict)
	if !ok {
		return verdictPage{}, false
	}
	o := base.o
	base.about(o.Main())
	judged := o.Judge(v.Now)
	if o.Verdict != nil && len(o.Breaks) == 0 && judged.Outcome != outing.Halted {
		judged = *o.Verdict // what a break found, or a deadline passed, counts from then on
	}
	p := verdictPage{common: base, Type: v.Text(base.u.Sheet.Name), Edition: base.u.Sheet.Edition, Outcome: judged.Outcome, Grade: string(judged.Grade), Hours: judged.Hours,
		Released: o.Verdict != nil, MayRelease: o.Status == outing.Open && o.May(*v.Person, operator.Release, v.Now), MayEnd: o.May(*v.Person, operator.End, v.Now)}
	if o.Verdict != nil {
		p.By = v.T("verdict.released_by", "who", v.Name(o.Release.By), "when", tell.DayTime(v.Voice, o.Release.At))
		if o.Second != "" {
			p.By = v.T("verdict.released_with", "who", v.Name(o.Release.By), "second", v.Name(o.Second), "when", tell.DayTime(v.Voice, o.Release.At))
		}
		p.breaks(v)
	}
	if o.End != nil && o.Home.ID != "" {
		p.Ended = v.T("verdict.ended_by", "who", v.Name(o.Home.By), "when", v.When(o.Home.At, v.Now))
	}
	if u := o.NotParked(); u != nil {
		p.NotParked = u.Name
	}
	p.Look = newCheckIn(v, o)
	p.Answered = append(answerers(v, o), takenBack(v, o)...)
	p.Halts = nil
	for _, r := range judged.Halts {
		p.Halts = append(p.Halts, v.Reason(r))
	}
	err := p.people(v)
	if err != nil {
		v.Fail(err)
		return p, false
	}
	p.Cleared, p.NotFor = v.Uses(judged)
	for _, m := range judged.Missing {
		p.Missing = append(p.Missing, newMissing(v, o, m))
	}
	if p.Repair = repairOf(v, o); p.Repair != nil {
		p.MayRelease, p.Missing, p.Cleared, p.NotFor = false, nil, nil, nil
	} else {
		p.Plan = plannedOf(v, o, judged.Jobs)
	}
	if p.Shortest, err = p.shortest(v); err != nil {
		v.Fail(err)
		return p, false
	}
	p.found(v)
	p.Until = tell.Deadline(v.Voice, judged.Deadline)
	p.machines(v)
	return p, true
}

// people fills in who may stand by at the release, and who the outing can be
// given to; and how long its operator may work the machines.
func (p *verdictPage) people(v *page.Visit) error {
	o := p.o
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		return err
	}
	for _, other := range people {
		if p.MayRelease && o.NeedsSecond() && o.MayStandBy(other) {
			p.Second = append(p.Second, choice{ID: other.ID, Name: other.Name})
		}
	}
	if p.Hand, err = takers(v, o); err != nil {
		return err
	}
	p.Exposure, err = exposureWords(v, o)
	return err
}

// shortest is the shortest way to a release in words: what it takes in all, and who
// takes it over where its operator cannot or needs longer.
func (p *verdictPage) shortest(v *page.Visit) (string, error) {
	if len(p.Missing) == 0 || !p.MayRelease && !p.o.May(*v.Person, operator.TakeOver, v.Now) {
		return "", nil
	}
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		return "", err
	}
	way, ok := p.o.ShortestWay(people, v.Now)
	switch {
	case !ok:
		return v.T("missing.no_way"), nil
	case way.Over != "":
		return v.T("missing.over", "who", v.Name(way.Over), "acts", way.Acts, "minutes", max(1, int(math.Ceil(way.Seconds/60)))), nil
	case len(p.Missing) > 1:
		return v.T("missing.in_all", "acts", way.Acts, "minutes", max(1, int(math.Ceil(way.Seconds/60)))), nil
	}
	return "", nil
}

// breaks says when a released machine was last looked round at a break.
func (p *verdictPage) breaks(v *page.Visit) {
	p.LooksOver = looksOver(v, p.o)
	p.MayBreak = p.o.Status == outing.Out && p.Mine && len(p.o.PlanBreak().Walks) > 0
	last := p.o.Break()
	if last == nil {
		return
	}
	p.Break = v.T("break.begun", "who", v.Name(last.Meta.By), "when", v.When(last.Meta.At, v.Now))
	if left := len(p.o.BreakLeft()); left > 0 {
		p.Break += " " + v.T("break.left", "n", left)
	}
}

// takenBack says what was found and taken back, by whose word.
func takenBack(v *page.Visit, o *outing.Outing) []string {
	var out []string
	for _, u := range o.Units {
		for _, b := range u.TakenBack() {
			c := u.Check(b.Was.Check)
			args := []any{"what", v.Text(c.Name) + ", " + tell.Lower(tell.Given(v.Voice, c, b.Was.Answered)), "finder", v.Name(b.Was.Meta.By), "who", v.Name(b.Now.Meta.By), "why", b.Now.Why}
			key := "back.taken"
			if b.Now.Second != "" {
				key, args = "back.taken_seen", append(args, "second", v.Name(b.Now.Second))
			}
			out = append(out, v.T(key, args...))
		}
	}
	return out
}

func (p *verdictPage) found(v *page.Visit) {
	for _, d := range p.o.Defects() {
		found := v.Found(d.ID, tell.Standing(v.Voice, p.o, d), d.Finding, p.o.Unit(d.Machine).HoursNow())
		if d.By != "" {
			found.By = v.T("defect.found", "who", v.Name(d.By), "when", tell.DayTime(v.Voice, d.At))
		}
		p.Found = append(p.Found, found)
	}
}

// machines fills in what each machine of the outing adds.
func (p *verdictPage) machines(v *page.Visit) {
	tests, faults := 0, 0
	for _, u := range p.o.Units {
		if m, err := v.Site.Store.Machine(v.Context(), u.Machine); err == nil {
			if p.Bays += ", " + v.T("machine.bay_no", "bay", m.Bay); m.Hirer != "" {
				p.Hired = append(p.Hired, v.T("halt.hired", "machine", m.Name, "hirer", m.Hirer))
			}
		}
		for i := range u.Sheet.Options {
			o := v.OptionView(u.Machine, &u.Sheet.Options[i], u.Sheet.Chosen()[u.Sheet.Options[i].ID])
			p.Has = append(p.Has, o.Name+": "+o.Way)
		}
		p.Left = append(p.Left, v.LeftOut(u.Sheet, true)...)
		for _, n := range u.Sheet.Numbers {
			if n.OfFuel() || n.OfPlanning() {
				continue // it is filled before it goes out, and planned, by pages of their own
			}
			number := v.NumberView(&n)
			if p.Several {
				number.Name = u.Name + ", " + tell.Lower(number.Name)
			}
			p.Numbers = append(p.Numbers, number)
		}
		plan := u.Round.Plan
		tests, faults = tests+len(plan.Tests), faults+len(plan.Dangerous)-len(plan.Uncatchable)
		for _, f := range plan.Uncatchable {
			p.Unseen = append(p.Unseen, tell.Fault(v.Voice, u.Interlocks(), f.Fault)+": "+v.T("uncatchable."+f.Reason))
		}
		for _, c := range u.Sheet.Cautions {
			p.Cautions = append(p.Cautions, v.Text(c))
		}
		p.Drawings = append(p.Drawings, page.SceneView{Scene: foundOn(p.o, u), Voice: v.Voice})
	}
	main := p.o.Main()
	p.Kept, p.Mow = v.Kept(main.Sheet, main.Practice, "work"), mowing(v, p.o)
	p.Bays = strings.TrimPrefix(p.Bays, ", ")
	if r := p.o.Ready(); r != nil {
		if r.Company != "" {
			p.Company = append(p.Company, v.T("slip.company", "who", v.Name(r.Company)))
		}
		if r.CheckIn != "" {
			p.Company = append(p.Company, v.T("slip.check_in", "at", r.CheckIn))
		}
	}
	p.Tests = v.T("round.summary", "tests", tests, "faults", faults)
	if at := p.o.Main().Proved; at != nil {
		p.Tests = v.T("round.proved_today", "when", v.Clock(*at))
	}
}

// release lets the machines out. Where somebody has to stand by, the core is
// asked first whether all else is in order: only then is their PIN looked at.
func release(v *page.Visit) {
	c := outing.Release{Second: v.Field("second")}
	if c.Second == "" {
		say(v, c)
		return
	}
	if mayNow(v, c) && v.SecondPIN(c.Second) {
		say(v, c)
	}
}
