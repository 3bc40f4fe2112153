package yard

// Combinations of machines that are out, each in an outing of its own: what a step of
// one asks of the others, and what it tells them. Trade practice throughout: couple
// before anything is loaded, nothing moves off with what hangs behind it open, loose or
// chocked, and no engine is started beside an open cap.

import (
	"errors"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

var (
	nameSlot = text.Slot{Name: "machine", Kind: text.Name}
	whatSlot = text.Slot{Name: "what", Kind: text.Words}

	ruleLinkFirst   = text.NewRule("train.say_first_behind")
	ruleTrailer     = text.NewRule("train.say_first_on")
	ruleNoPuller    = text.NewRule("train.cannot_pull", nameSlot)
	rulePulls       = text.NewRule("train.pulls_already", nameSlot, text.Slot{Name: "other", Kind: text.Name})
	ruleNotOut      = text.NewRule("train.not_out", nameSlot)
	ruleBrakeFirst  = text.NewRule("train.brake_first", nameSlot)
	ruleStartFirst  = text.NewRule("train.start_first", nameSlot)
	ruleBehindFirst = text.NewRule("train.behind_not_ready", nameSlot, whatSlot)
	ruleBehindIn    = text.NewRule("train.behind_not_out", nameSlot)
	ruleChockFirst  = text.NewRule("train.chock_first", nameSlot)
	ruleCapOpen     = text.NewRule("train.cap_open", nameSlot)
	ruleRunsBeside  = text.NewRule("train.runs_beside", nameSlot)
	ruleBedFirst    = text.NewRule("train.bed_not_ready", nameSlot, whatSlot)
	ruleAboard      = text.NewRule("train.not_fastened", nameSlot)
	ruleStillOn     = text.NewRule("train.still_coupled", nameSlot)
)

// Pullers are the machines that are out and may pull one: of a family that its sheet
// names, released, and with nothing else behind them.
func Pullers(v View, u *outing.UnitState, m record.Meta) []Machine {
	var out []Machine
	for _, other := range v.Machines() {
		if u.Sheet.Towed != nil && pulls(v, u, other, m) == nil {
			out = append(out, other)
		}
	}
	return out
}

// Trailers are the trailers that are out and that a machine may be driven onto.
func Trailers(v View, u *outing.UnitState) []Machine {
	var out []Machine
	for _, other := range v.Machines() {
		if u.Sheet.Rides() && carries(v, other) == nil {
			out = append(out, other)
		}
	}
	return out
}

// pulls is why a machine cannot pull another now, or nil.
func pulls(v View, u *outing.UnitState, puller Machine, m record.Meta) *text.Reason {
	sheet, ok := v.Sheet(puller.Sheet)
	if !ok || puller.ID == u.Machine || !u.Sheet.PulledBy(sheet.Family) {
		return reason(ruleNoPuller.Says(puller.Name))
	}
	o, out := v.Outing(puller.Outing)
	if puller.Outing == "" || !out || o.Status != outing.Out {
		return reason(ruleNotOut.Says(puller.Name))
	}
	for _, other := range o.Units { // what it carries is where a drawbar would be
		if other.Machine != puller.ID {
			return reason(rulePulls.Says(puller.Name, other.Name))
		}
	}
	for _, other := range behind(v, puller.ID, m) {
		if other.ID != u.Machine {
			return reason(rulePulls.Says(puller.Name, other.Name))
		}
	}
	return nil
}

// carries is why a machine cannot take another on its bed now, or nil.
func carries(v View, trailer Machine) *text.Reason {
	sheet, ok := v.Sheet(trailer.Sheet)
	if !ok || sheet.Carries == nil {
		return reason(ruleNoPuller.Says(trailer.Name))
	}
	if u := unitOf(v, trailer.ID); u == nil {
		return reason(ruleNotOut.Says(trailer.Name))
	}
	return nil
}

// unitOf is a machine as it is out, or nil.
func unitOf(v View, id string) *outing.UnitState {
	m, ok := v.Machine(id)
	if !ok || m.Outing == "" {
		return nil
	}
	o, ok := v.Outing(m.Outing)
	if !ok {
		return nil
	}
	return o.Unit(id)
}

// hung is a machine that hangs on another; out is nil where it is in no outing.
type hung struct {
	Machine
	out *outing.UnitState
}

// behind are the machines that hang on one: those that are out, and those that were left
// so when their outing ended.
func behind(v View, id string, m record.Meta) []hung {
	var out []hung
	for _, other := range v.Machines() {
		sheet, ok := v.Sheet(other.Sheet)
		if !ok || sheet.Towed == nil || other.ID == id {
			continue
		}
		u := unitOf(v, other.ID)
		switch {
		case other.Outing == "" && outing.LeftBehind(other.Stood) == id:
			out = append(out, hung{Machine: other})
		case u != nil && u.Behind != nil && *u.Behind == id && outing.Coupled(sheet, u.Facts(m)):
			out = append(out, hung{other, u})
		}
	}
	return out
}

// riders are the machines that are out and go on a trailer.
func riders(v View, id string) []*outing.UnitState {
	var out []*outing.UnitState
	for _, m := range v.Machines() {
		if sheet, ok := v.Sheet(m.Sheet); m.Outing == "" || m.ID == id || !ok || !sheet.Rides() {
			continue
		}
		if u := unitOf(v, m.ID); u != nil && u.On != nil && *u.On == id {
			out = append(out, u)
		}
	}
	return out
}

// GoWith are the machines that hang on one, and those that go on its bed, by id.
func GoWith(v View, id string, m record.Meta) (pulled, carried []string) {
	for _, u := range behind(v, id, m) {
		pulled = append(pulled, u.ID)
	}
	for _, u := range riders(v, id) {
		carried = append(carried, u.Machine)
	}
	return pulled, carried
}

// linkable checks a link that somebody says: what pulls it is out, may pull it, and
// pulls nothing else; a trailer is out. While it hangs or stands there it is no other.
func linkable(v View, o *outing.Outing, c outing.Link, m record.Meta) error {
	u := o.Unit(c.Machine)
	if u == nil {
		return nil // the outing says so
	}
	stands := u.Facts(m)
	was := u.Behind
	held := outing.Coupled(u.Sheet, stands)
	if c.How == outing.On {
		was, held = u.On, stands["place"] == "bed"
	}
	if held && was != nil && *was != c.To {
		if other, ok := v.Machine(*was); ok {
			return record.Refuse(ruleStillOn.Says(other.Name))
		}
	}
	if c.To == "" {
		return nil
	}
	other, ok := v.Machine(c.To)
	if !ok {
		return record.Refuse(ruleNoMachine.Says())
	}
	var why *text.Reason
	switch {
	case c.How == outing.Behind && u.Sheet.Towed != nil:
		why = pulls(v, u, other, m)
	case c.How == outing.On && u.Sheet.Rides():
		why = carries(v, other)
	}
	if why != nil {
		return record.Refuse(*why)
	}
	return nil
}

// loads is the procedure that drives a machine onto a trailer.
const loads = "load"

// change is how a machine stands before and after what was said of it.
type change struct {
	v             View
	m             record.Meta
	u             *outing.UnitState
	run           string // the procedure of the step
	before, after machine.Facts
	told          []Decided
}

// becomes reports whether a fact has come to stand so.
func (c *change) becomes(fact, is string) bool { return c.before[fact] != is && c.after[fact] == is }

// leaves reports whether a fact stood so and does not any more.
func (c *change) leaves(fact, is string) bool { return c.before[fact] == is && c.after[fact] != is }

// tell tells another machine what was done to it.
func (c *change) tell(to *outing.UnitState, facts machine.Facts) {
	at, ok := c.v.Machine(to.Machine)
	if ok && !facts.Hold(to.Facts(c.m)) {
		c.told = append(c.told, Decided{Outing: at.Outing, Machine: to.Machine, Event: outing.Beside{Machine: to.Machine, From: c.u.Machine, Facts: facts}})
	}
}

// train is what is told to the machines that one goes with, by what was said of it; the
// error is a *record.Refused where a step asks of them what is not so. What happened by
// itself is told and never refused.
func train(v View, o *outing.Outing, events []record.Event, m record.Meta) ([]Decided, error) {
	id, run, step := "", "", false
	for _, e := range events {
		switch e := e.(type) {
		case outing.StepAnswered:
			id, run, step = e.Machine, e.Procedure, true
		case outing.Happened:
			id = e.Machine
		}
	}
	u := o.Unit(id)
	if u == nil {
		return nil, nil
	}
	after := o
	for _, e := range events {
		after = after.Apply(m, e)
	}
	c := &change{v: v, m: m, u: u, run: run, before: u.Facts(m), after: after.Unit(id).Facts(m)}
	for _, rule := range []func(*change) *text.Reason{asTowed, asPuller, beside, asRider, asTrailer} {
		if why := rule(c); why != nil && step {
			return nil, record.Refuse(*why)
		}
	}
	return c.told, nil
}

// Held is why an answer to a step would be refused because of the machines that one goes
// with, or nil: said before anybody does what the step says.
func Held(v View, o *outing.Outing, c outing.AnswerStep, m record.Meta) *text.Reason {
	events, err := outing.Decide(o, c, m, v)
	if err != nil {
		return nil
	}
	_, err = train(v, o, events, m)
	var refused *record.Refused
	if errors.As(err, &refused) {
		return &refused.Reason
	}
	return nil
}

// asTowed: it is coupled to what somebody named, whose brake is set; it moves with what
// pulls it, and stands with it.
func asTowed(c *change) *text.Reason {
	if c.u.Sheet.Towed == nil {
		return nil
	}
	was, is := outing.Coupled(c.u.Sheet, c.before), outing.Coupled(c.u.Sheet, c.after)
	if is && !was && c.u.Behind == nil && len(Pullers(c.v, c.u, c.m)) > 0 {
		return reason(ruleLinkFirst.Says())
	}
	if !is || c.u.Behind == nil || *c.u.Behind == "" {
		return nil
	}
	puller, _ := c.v.Machine(*c.u.Behind)
	moves := c.after["brake"] != "set" && (c.becomes("transport", "road") || c.leaves("brake", "set"))
	p := unitOf(c.v, puller.ID)
	switch {
	case p == nil && (moves || !was):
		return reason(ruleNotOut.Says(puller.Name))
	case p == nil:
		return nil
	case !was && p.Facts(c.m)["brake"] != "set":
		return reason(ruleBrakeFirst.Says(puller.Name))
	case moves && p.Facts(c.m)["engine"] != "running":
		return reason(ruleStartFirst.Says(puller.Name))
	case moves:
		c.tell(p, machine.Facts{"travel": "moving", "brake": "off", "person": "in_place"})
	case c.leaves("transport", "road"), c.becomes("brake", "set"):
		c.tell(p, machine.Facts{"travel": "neutral", "brake": "set"})
	}
	return nil
}

// asPuller: it moves off with what hangs behind it ready for the way, and is left with it
// chocked.
func asPuller(c *change) *text.Reason {
	moves, away := c.becomes("travel", "moving"), c.becomes("person", "away")
	if !moves && !away {
		return nil
	}
	for _, h := range behind(c.v, c.u.Machine, c.m) {
		t := h.out
		if t == nil {
			if moves {
				return reason(ruleBehindIn.Says(h.Name))
			}
			continue
		}
		stands := t.Facts(c.m)
		if moves && !t.Sheet.Towed.Way.Met(stands) {
			return reason(ruleBehindFirst.Says(t.Name, t.Sheet.Towed.Ready))
		}
		if is, has := stands["brake"]; away && has && is != "set" {
			return reason(ruleChockFirst.Says(t.Name))
		}
	}
	return nil
}

// beside: no engine is started beside an open fuel cap, and while one runs that stands
// coupled to it, nobody says that nothing near can light the vapour.
func beside(c *change) *text.Reason {
	starts, stops := c.becomes("engine", "running"), c.leaves("engine", "running")
	safe := c.becomes("ignition", "none")
	if !starts && !stops && !safe {
		return nil
	}
	var with []*outing.UnitState
	for _, h := range behind(c.v, c.u.Machine, c.m) {
		if h.out != nil {
			with = append(with, h.out)
		}
	}
	if c.u.Behind != nil && outing.Coupled(c.u.Sheet, c.after) {
		if p := unitOf(c.v, *c.u.Behind); p != nil {
			with = append(with, p)
		}
	}
	for _, other := range with {
		stands := other.Facts(c.m)
		_, burns := stands["cap"]
		switch {
		case starts && stands["cap"] == "open":
			return reason(ruleCapOpen.Says(other.Name))
		case safe && stands["engine"] == "running":
			return reason(ruleRunsBeside.Says(other.Name))
		case starts && burns:
			c.tell(other, machine.Facts{"ignition": "near"})
		case stops && stands["ignition"] == "near":
			c.tell(other, machine.Facts{"ignition": "unknown"})
		}
	}
	return nil
}

// asRider: it is driven onto a bed that is coupled and open, fastened on one that is
// latched, loosened on one that is open again, and then driven off.
func asRider(c *change) *text.Reason {
	if !c.u.Sheet.Rides() {
		return nil
	}
	up := c.run == loads && c.becomes("travel", "moving")
	on, fastened, loose := c.becomes("place", "bed"), c.becomes("transport", "trailer"), c.leaves("transport", "trailer")
	if (up || on) && c.u.On == nil && len(Trailers(c.v, c.u)) > 0 {
		return reason(ruleTrailer.Says())
	}
	if c.u.On == nil || *c.u.On == "" {
		return nil
	}
	trailer, _ := c.v.Machine(*c.u.On)
	t := unitOf(c.v, trailer.ID)
	if t == nil || t.Sheet.Carries == nil {
		if up || on || fastened || loose {
			return reason(ruleNotOut.Says(trailer.Name))
		}
		return nil
	}
	bed, stands := t.Sheet.Carries, t.Facts(c.m)
	off := !up && c.becomes("travel", "moving") && bed.Aboard.Hold(stands)
	switch {
	case fastened && !bed.Shut.Met(stands):
		return reason(ruleBedFirst.Says(trailer.Name, bed.ToFasten))
	case fastened:
		c.tell(t, bed.Fastened)
	case (up || on || loose || off) && !bed.Open.Met(stands):
		return reason(ruleBedFirst.Says(trailer.Name, bed.ToDrive))
	case on:
		c.tell(t, bed.Aboard)
	case off:
		c.tell(t, bed.Empty)
	}
	return nil
}

// asTrailer: it is pulled only with what stands on it fastened.
func asTrailer(c *change) *text.Reason {
	if c.u.Sheet.Carries == nil || !c.becomes("transport", "road") {
		return nil
	}
	for _, rider := range riders(c.v, c.u.Machine) {
		if stands := rider.Facts(c.m); stands["place"] == "bed" && stands["transport"] != "trailer" {
			return reason(ruleAboard.Says(rider.Name))
		}
	}
	return nil
}

func reason(r text.Reason) *text.Reason { return &r }
