package interlock_test

// The meaning of interlock sections once more, written from its text alone:
// slowly, one state and one expression at a time, sharing nothing with the
// planner but the reading of expressions.

import (
	"cmp"
	"math/bits"
	"slices"

	"vespers/core/interlock"
	"vespers/core/machine"
)

// literal is a section taken at its word. A state has bit i set when switch i
// is made.
type literal struct {
	section machine.Interlock
	terms   map[string]interlock.Expr // by permit
	free    bool                      // as if nothing were ruled out
}

// literalFault is one thing wrong. Contact faults have a switch, permit faults
// none; permit is "" for a contact that all permits share.
type literalFault struct {
	name, on, permit, how string
}

type literalTest struct {
	kind, permit string
	from, to     uint
	back         bool
}

func newLiteral(s machine.Interlock) *literal {
	l := &literal{section: s, terms: map[string]interlock.Expr{}}
	for _, p := range s.Permits {
		l.terms[p.ID], _ = interlock.Parse(p.When)
	}
	return l
}

func (l *literal) states() uint { return 1 << len(l.section.Switches) }

func (l *literal) bit(id string) uint {
	return 1 << slices.IndexFunc(l.section.Switches, func(s machine.Switch) bool { return s.ID == id })
}

func (l *literal) rest() (x uint) {
	for _, s := range l.section.Switches {
		if s.Rest != "broken" {
			x |= l.bit(s.ID)
		}
	}
	return x
}

func (l *literal) of(kind string) *machine.Permit {
	for i := range l.section.Permits {
		if l.section.Permits[i].Kind == kind {
			return &l.section.Permits[i]
		}
	}
	return nil
}

func (l *literal) drives() (out []machine.Permit) {
	for _, p := range l.section.Permits {
		if p.Kind == "drive" {
			out = append(out, p)
		}
	}
	return out
}

func (l *literal) permit(id string) *machine.Permit {
	for i := range l.section.Permits {
		if l.section.Permits[i].ID == id {
			return &l.section.Permits[i]
		}
	}
	return nil
}

// names reports whether an expression of the permit speaks of a switch.
func (l *literal) names(p *machine.Permit, id string) bool {
	if p == nil {
		return false
	}
	found := false
	var visit func(e interlock.Expr)
	visit = func(e interlock.Expr) {
		switch e := e.(type) {
		case interlock.Name:
			found = found || string(e) == id
		case interlock.Not:
			visit(e.X)
		case interlock.And:
			for _, t := range e.Terms {
				visit(t)
			}
		case interlock.Or:
			for _, t := range e.Terms {
				visit(t)
			}
		}
	}
	visit(l.terms[p.ID])
	return found
}

func (l *literal) says(p *machine.Permit, x uint, in []literalFault) bool {
	if p == nil {
		return true
	}
	for _, f := range in {
		if f.on == p.ID && f.how == "on" {
			return true
		}
		if f.on == p.ID && f.how == "off" {
			return false
		}
	}
	return l.terms[p.ID].Eval(func(id string) bool {
		for _, f := range in {
			if f.on == id && (f.permit == "" || f.permit == p.ID) && (f.how == "made" || f.how == "broken") {
				return f.how == "made"
			}
		}
		return x&l.bit(id) != 0
	})
}

// effect: "start" is cranks, "run" is runs, anything else a drive that moves.
func (l *literal) effect(watch string, x uint, in ...literalFault) bool {
	switch watch {
	case "start":
		return l.says(l.of("start"), x, in)
	case "run":
		return l.says(l.of("run"), x, in)
	}
	d := l.permit(watch)
	if !l.says(l.of("run"), x, in) || !l.says(d, x, in) {
		return false
	}
	return d.TurnedBy == "" || l.says(l.permit(d.TurnedBy), x, in)
}

func (l *literal) watches() []string {
	out := []string{"start", "run"}
	for _, d := range l.drives() {
		out = append(out, d.ID)
	}
	return out
}

func (l *literal) faults() (out []literalFault) {
	for _, s := range l.section.Switches {
		shared := false
		for i := range l.section.Permits {
			p := &l.section.Permits[i]
			if !l.names(p, s.ID) {
				continue
			}
			if s.Contacts == "per_permit" {
				for _, how := range []string{"made", "broken"} {
					out = append(out, literalFault{s.ID + "@" + p.ID + ":" + how, s.ID, p.ID, how})
				}
			} else {
				shared = true
			}
		}
		if shared {
			for _, how := range []string{"made", "broken"} {
				out = append(out, literalFault{s.ID + ":" + how, s.ID, "", how})
			}
		}
	}
	for _, p := range l.section.Permits {
		for _, how := range []string{"on", "off"} {
			out = append(out, literalFault{p.ID + ":" + how, p.ID, p.ID, how})
		}
	}
	for _, d := range l.drives() {
		if d.Latched {
			out = append(out, literalFault{d.ID + ":restarts", d.ID, d.ID, "restarts"})
		}
	}
	return out
}

func (l *literal) dangerous() (out []literalFault) {
	for _, f := range l.faults() {
		bad := f.how == "restarts"
		for x := range l.states() {
			for _, w := range l.watches() {
				bad = bad || l.effect(w, x, f) && !l.effect(w, x)
			}
		}
		if bad {
			out = append(out, f)
		}
	}
	return out
}

// never: some state ruled out for this kind of test is true in x.
func (l *literal) never(kind string, x uint) bool {
	for _, n := range l.section.Never {
		if n.In != nil && !slices.Contains(n.In, kind) && !slices.Contains(n.In, "all") {
			continue
		}
		e, _ := interlock.Parse(n.State)
		if e.Eval(func(id string) bool { return x&l.bit(id) != 0 }) {
			return true
		}
	}
	return false
}

// seated: every place switch is made in x, but those that one of the permits
// names.
func (l *literal) seated(x uint, but ...*machine.Permit) bool {
	for _, s := range l.section.Switches {
		if s.Place && x&l.bit(s.ID) == 0 && !slices.ContainsFunc(but, func(p *machine.Permit) bool { return l.names(p, s.ID) }) {
			return false
		}
	}
	return true
}

func (l *literal) ok(kind string, x uint, but ...*machine.Permit) bool {
	return l.free || !l.never(kind, x) && l.seated(x, but...)
}

// held: a switch that may not be changed between two states.
func (l *literal) held(id string, a, b uint) bool {
	i := slices.IndexFunc(l.section.Switches, func(s machine.Switch) bool { return s.ID == id })
	if l.free || l.section.Switches[i].Moving != "forbidden" {
		return false
	}
	for _, d := range l.drives() {
		if (l.effect(d.ID, a) || l.effect(d.ID, b)) && (l.names(&d, id) || l.names(l.of("run"), id)) {
			return true
		}
	}
	return false
}

// reach tries every order of the switches that differ.
func (l *literal) reach(a, b uint) bool {
	if !l.effect("run", a) {
		return false
	}
	if a == b {
		return true
	}
	for _, s := range l.section.Switches {
		if bit := l.bit(s.ID); (a^b)&bit != 0 && !l.held(s.ID, a, a^bit) && l.reach(a^bit, b) {
			return true
		}
	}
	return false
}

func (l *literal) engine() bool { return l.of("start") != nil || l.of("run") != nil }

func (l *literal) starts() (out []uint) {
	for u := range l.states() {
		if l.free || !l.never("stop", u) && l.seated(u) {
			good := l.effect("start", u) && l.effect("run", u)
			for _, s := range l.section.Switches {
				good = good && (l.free || s.AtStart != "made" || u&l.bit(s.ID) != 0)
			}
			for _, d := range l.drives() {
				good = good && !l.effect(d.ID, u)
			}
			if good {
				out = append(out, u)
			}
		}
	}
	return out
}

// tests lists every test there is.
func (l *literal) tests() (out []literalTest) {
	if start := l.of("start"); start != nil {
		for x := range l.states() {
			if l.ok("refusal", x, start) && !l.effect("start", x) {
				out = append(out, literalTest{kind: "refusal", permit: start.ID, to: x})
			}
		}
	}
	starts := l.starts()
	for f := range l.states() {
		if l.engine() && !slices.ContainsFunc(starts, func(u uint) bool { return l.reach(u, f) }) {
			continue
		}
		for _, c := range l.section.Switches {
			x := f ^ l.bit(c.ID)
			if l.held(c.ID, f, x) {
				continue
			}
			if run := l.of("run"); run != nil && l.ok("stop", f) && l.ok("stop", x, run) && l.effect("run", f) && !l.effect("run", x) {
				out = append(out, literalTest{"engine_stop", run.ID, f, x, false})
			}
			for _, d := range l.drives() {
				if l.ok("stop", f) && l.ok("stop", x, &d, l.of("run")) && l.effect(d.ID, f) && !l.effect(d.ID, x) {
					out = append(out, literalTest{"drive_stop", d.ID, f, x, false})
					if d.Latched && l.effect("run", x) && (len(d.LatchedBy) == 0 || slices.Contains(d.LatchedBy, c.ID)) {
						out = append(out, literalTest{"drive_stop", d.ID, f, x, true})
					}
				}
				if l.engages(d, c, f, x) {
					out = append(out, literalTest{"engage", d.ID, f, x, false})
				}
			}
		}
	}
	return out
}

func (l *literal) engages(d machine.Permit, c machine.Switch, f, x uint) bool {
	if !l.free && (c.Moving == "forbidden" || c.Place) || !l.ok("engage", f, &d) || !l.ok("engage", x, &d) ||
		l.effect(d.ID, f) || l.effect(d.ID, x) || l.engine() && !(l.effect("run", f) && l.effect("run", x)) {
		return false
	}
	return slices.ContainsFunc(l.section.Switches, func(g machine.Switch) bool {
		bit := l.bit(g.ID)
		return g.ID != c.ID && l.effect(d.ID, x^bit) && !l.effect(d.ID, f^bit)
	})
}

func (t literalTest) watch() string {
	switch t.kind {
	case "refusal":
		return "start"
	case "engine_stop":
		return "run"
	}
	return t.permit
}

// rank: refusals before engages before stops.
func (t literalTest) rank() int {
	return min(slices.Index([]string{"refusal", "engage", "engine_stop", "drive_stop"}, t.kind), 2)
}

// shows: the effect that must not be is there on a machine with these faults.
func (l *literal) shows(t literalTest, in ...literalFault) bool {
	w := t.watch()
	switch t.kind {
	case "refusal":
		return l.effect(w, t.to, in...)
	case "engage":
		return l.effect(w, t.from, in...) || l.effect(w, t.to, in...) && l.effect("run", t.from, in...)
	}
	return l.effect(w, t.from, in...) && l.effect(w, t.to, in...)
}

func (l *literal) catches(t literalTest, f literalFault) bool {
	return l.shows(t, f) || t.back && f.how == "restarts" && f.on == t.permit
}

// word is a state as a 0/1 word in the sheet's order.
func (l *literal) word(x uint) uint { return bits.Reverse(x) }

func apart(a, b uint) int { return bits.OnesCount(a ^ b) }

// literalPlan is a plan with what decides between two of the same size.
type literalPlan struct {
	tests     []literalTest
	movements int
	words     []uint
	start     *uint
}

func (l *literal) compare(a, b literalPlan) int {
	if d := cmp.Or(cmp.Compare(a.movements, b.movements), slices.Compare(a.words, b.words)); d != 0 {
		return d
	}
	permit := func(t literalTest) int {
		return slices.IndexFunc(l.section.Permits, func(p machine.Permit) bool { return p.ID == t.permit })
	}
	back := map[bool]int{true: 1}
	return slices.CompareFunc(a.tests, b.tests, func(s, t literalTest) int {
		return cmp.Or(cmp.Compare(s.rank(), t.rank()), cmp.Compare(permit(s), permit(t)), cmp.Compare(back[s.back], back[t.back]))
	})
}

// round looks for the best round.
type literalRound struct {
	*literal
	tests    []literalTest
	catches  []uint64 // by test: the dangerous faults, a bit each
	required []int    // tests, in order
	starts   []uint
	need     uint64
	reaches  map[[2]uint]bool
	known    map[literalPlace]int
	best     *literalPlan
	tried    int
}

// literalPlace is how far a round is.
type literalPlace struct {
	covered, done uint64 // faults, required tests
	at            uint
	stops, on     bool
	left          int
}

const hopeless = 1 << 20

// plan tries every number of tests from nothing up, and of all rounds of the
// first that will do takes the best. ok is false where that takes too long.
func (l *literal) plan(required []machine.RequiredTest, most int) (p literalPlan, ok bool) {
	r := &literalRound{literal: l, tests: l.tests(), starts: l.starts(), reaches: map[[2]uint]bool{}}
	for _, t := range r.tests {
		var c uint64
		for i, f := range l.dangerous() {
			if l.catches(t, f) {
				c |= 1 << i
			}
		}
		r.catches = append(r.catches, c)
		r.need |= c
	}
	for _, q := range required {
		from, to := l.position(q.From), l.position(q.To)
		if q.From == nil {
			from = 0
		}
		i := slices.Index(r.tests, literalTest{q.Kind, q.Permit, from, to, q.Return})
		if !slices.Contains(r.required, i) {
			r.required = append(r.required, i)
		}
	}
	for k := 0; ; k++ {
		r.known = map[literalPlace]int{}
		first := literalPlace{at: l.rest(), left: k}
		if n := r.least(first); n < hopeless {
			r.follow(first, literalPlan{words: []uint{l.word(l.rest())}})
			return *r.best, r.tried < most
		}
		if len(r.known) > most {
			return p, false
		}
	}
}

func (l *literal) position(named map[string]bool) uint {
	x := l.rest()
	for id, made := range named {
		x &^= l.bit(id)
		if made {
			x |= l.bit(id)
		}
	}
	return x
}

func (r *literalRound) inReach(a, b uint) bool {
	k := [2]uint{a, b}
	if _, known := r.reaches[k]; !known {
		r.reaches[k] = !r.engine() || r.reach(a, b)
	}
	return r.reaches[k]
}

// onward gives every next test with every way to come to it: the states gone
// through.
func (r *literalRound) onward(p literalPlace, try func(i int, through []uint, start bool, after literalPlace)) {
	for i, t := range r.tests {
		gain, done := r.catches[i]&^p.covered, p.done
		if n := slices.Index(r.required, i); n >= 0 && p.done>>n&1 == 0 {
			early := false
			for m := range n {
				same := (r.tests[r.required[m]].kind == "refusal") == (t.kind == "refusal")
				early = early || same && p.done>>m&1 == 0
			}
			if early {
				continue
			}
			done |= 1 << n
		}
		if gain == 0 && done == p.done || t.kind == "refusal" && p.stops {
			continue // a smallest set holds nothing that adds nothing
		}
		after := literalPlace{covered: p.covered | gain, done: done, stops: t.kind != "refusal", left: p.left - 1}
		tail := []uint{t.to}
		if t.kind != "refusal" {
			tail = []uint{t.from, t.to}
			if t.back {
				tail = append(tail, t.from)
			}
		}
		after.at = tail[len(tail)-1]
		after.on = t.kind != "refusal" && r.effect("run", after.at)
		switch {
		case t.kind == "refusal", !r.engine(), p.on && r.inReach(p.at, t.from):
			try(i, tail, false, after)
		default:
			for _, u := range r.starts {
				if r.inReach(u, t.from) {
					try(i, append([]uint{u}, tail...), true, after)
				}
			}
		}
	}
}

func (r *literalRound) finished(p literalPlace) bool {
	return p.covered == r.need && bits.OnesCount64(p.done) == len(r.required)
}

func way(at uint, through []uint) (n int) {
	for _, x := range through {
		n += apart(at, x)
		at = x
	}
	return n
}

// least is the fewest movements with which the round can be finished.
func (r *literalRound) least(p literalPlace) int {
	if r.finished(p) {
		if p.left == 0 {
			return 0
		}
		return hopeless
	}
	if p.left == 0 {
		return hopeless
	}
	if n, known := r.known[p]; known {
		return n
	}
	best := hopeless
	r.onward(p, func(_ int, through []uint, _ bool, after literalPlace) {
		best = min(best, way(p.at, through)+r.least(after))
	})
	r.known[p] = best
	return best
}

// follow goes through every round with the fewest movements.
func (r *literalRound) follow(p literalPlace, so literalPlan) {
	if r.tried++; r.finished(p) {
		if r.best == nil || r.compare(so, *r.best) < 0 {
			r.best = &so
		}
		return
	}
	least := r.least(p)
	r.onward(p, func(i int, through []uint, start bool, after literalPlace) {
		if way(p.at, through)+r.least(after) != least {
			return
		}
		next := literalPlan{append(slices.Clip(so.tests), r.tests[i]), so.movements + way(p.at, through), slices.Clip(so.words), so.start}
		for _, x := range through {
			next.words = append(next.words, r.word(x))
		}
		if start && next.start == nil {
			next.start = &through[0]
		}
		if r.best != nil {
			if n := min(len(next.words), len(r.best.words)); slices.Compare(next.words[:n], r.best.words[:n]) > 0 {
				return
			}
		}
		r.follow(after, next)
	})
}
