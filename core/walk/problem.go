package walk

// A walk-around as a problem of order: points, settings, ways between spots.

import (
	"math"
	mathbits "math/bits"
	"slices"

	"vespers/core/machine"
)

// The planner reckons in whole numbers, so that two walks that cost the same
// are seen to: a unit is a thousandth of a millionth of a metre walked, a second
// weighs as much as the metres walked in it, and each change of a setting adds
// one unit, which prefers fewer changes among walks that take the same time.
const (
	unitsAMetre  = 1_000_000 << 10
	unitsASecond = Pace * unitsAMetre
)

func fromMetres(m float64) int64  { return int64(math.Round(m*1_000_000)) << 10 }
func fromSeconds(s float64) int64 { return int64(math.Round(s*Pace*1_000_000)) << 10 }

// problem is a sheet turned into numbers.
type problem struct {
	sheet    *machine.Sheet
	spots    []spot
	distance [][]int64
	settings []setting
	checks   []check // those of this walk, in the order of their ids
	later    []string
	order    []int // checks in the order of the sheet
	start    int
	end      int
	pairs    int // different (spot, needs) pairs
	loop     int64

	all    bits     // every check
	at     []bits   // the checks of each spot
	wanted [][]bits // the checks that want a setting to stand some way
}

type spot struct {
	id      string
	at, off int64
}

type setting struct {
	id    string
	spot  int
	ways  []string
	costs []int64
	start int
	end   int
}

type check struct {
	id    string
	spot  int
	cost  int64
	needs []int // by setting: the way it needs, -1 for any
	after bits
}

// bits is a set of checks, by number.
type bits [4]uint64

// most is how many checks one walk may have.
const most = len(bits{}) * 64

func (b bits) has(i int) bool { return b[i>>6]>>(i&63)&1 == 1 }
func (b *bits) add(i int)     { b[i>>6] |= 1 << (i & 63) }

// without reports whether b has nothing that done lacks.
func (b *bits) within(done bits) bool {
	return (b[0]&^done[0])|(b[1]&^done[1])|(b[2]&^done[2])|(b[3]&^done[3]) == 0
}

// minus is what b has and done lacks.
func (b bits) minus(done bits) bits {
	for i := range b {
		b[i] &^= done[i]
	}
	return b
}

// next is the first in b from i on; ok is false where there is none.
func (b bits) next(i int) (first int, ok bool) {
	for w := i >> 6; w < len(b); w++ {
		word := b[w]
		if w == i>>6 {
			word &= ^uint64(0) << (i & 63)
		}
		if word != 0 {
			return w<<6 + mathbits.TrailingZeros64(word), true
		}
	}
	return 0, false
}

// index makes the sets that the search asks for again and again.
func (p *problem) index() {
	if len(p.checks) > most {
		return // it is not searched
	}
	p.at = make([]bits, len(p.spots))
	p.wanted = make([][]bits, len(p.settings))
	for s := range p.settings {
		p.wanted[s] = make([]bits, len(p.settings[s].ways))
	}
	p.all = bits{}
	for i, c := range p.checks {
		p.all.add(i)
		p.at[c.spot].add(i)
		for s, want := range c.needs {
			if want >= 0 {
				p.wanted[s][want].add(i)
			}
		}
	}
}

func newProblem(sheet *machine.Sheet, o Options) *problem {
	p := &problem{sheet: sheet, loop: fromMetres(sheet.Loop.Length)}
	for _, st := range sheet.Loop.Stations {
		p.spots = append(p.spots, spot{st.ID, fromMetres(st.At), 0})
	}
	for _, pl := range sheet.Places {
		s, _ := sheet.Spot(pl.ID)
		p.spots = append(p.spots, spot{pl.ID, fromMetres(s.At), fromMetres(s.Off)})
	}
	for i, a := range p.spots {
		p.distance = append(p.distance, make([]int64, len(p.spots)))
		for j, b := range p.spots {
			if i != j {
				p.distance[i][j] = a.off + b.off + p.round(a.at, b.at)
			}
		}
	}
	p.start, p.end = 0, p.spot(sheet.OperatorPlace)
	if i := p.spot(o.Start); i >= 0 {
		p.start = i
	}
	if i := p.spot(o.End); i >= 0 {
		p.end = i
	}
	p.addSettings(o)
	p.addChecks(o)
	p.index()
	return p
}

func (p *problem) round(a, b int64) int64 {
	d := a - b
	if d < 0 {
		d = -d
	}
	return min(d, p.loop-d)
}

func (p *problem) spot(id string) int {
	return slices.IndexFunc(p.spots, func(s spot) bool { return s.id == id })
}

func (p *problem) addSettings(o Options) {
	for _, s := range p.sheet.Settings {
		one := setting{id: s.ID, spot: p.spot(s.At)}
		stands := s.Start
		if way, ok := o.Stands[s.ID]; ok {
			stands = way
		}
		for i, w := range s.Ways {
			one.ways = append(one.ways, w.ID)
			one.costs = append(one.costs, fromSeconds(w.Seconds)+1)
			if w.ID == stands {
				one.start = i
			}
			if w.ID == s.End {
				one.end = i
			}
		}
		p.settings = append(p.settings, one)
	}
}

// addChecks takes the cold points of the walk, without those put off until the
// machine is cooler and those that come after one of them.
func (p *problem) addChecks(o Options) {
	wanted := map[string]bool{}
	for i := range p.sheet.Checks {
		c := &p.sheet.Checks[i]
		wanted[c.ID] = c.Phase == machine.Cold && (o.Only == nil || o.Only(c))
	}
	putOff := map[string]bool{}
	for again := true; again; {
		again = false
		for _, c := range p.sheet.Checks {
			hot := o.Hot && c.Cool > o.Minutes || slices.ContainsFunc(c.After, func(id string) bool { return putOff[id] })
			if wanted[c.ID] && hot && !putOff[c.ID] {
				putOff[c.ID], again = true, true
				p.later = append(p.later, c.ID)
			}
		}
	}
	slices.Sort(p.later)
	var mine []*machine.Check
	for i := range p.sheet.Checks {
		if c := &p.sheet.Checks[i]; wanted[c.ID] && !putOff[c.ID] {
			mine = append(mine, c)
		}
	}
	sheetOrder := slices.Clone(mine)
	slices.SortFunc(mine, func(a, b *machine.Check) int {
		if a.ID < b.ID {
			return -1
		}
		return 1
	})
	number := map[string]int{}
	for i, c := range mine {
		number[c.ID] = i
	}
	pairs := map[string]bool{}
	for _, c := range mine {
		one := check{id: c.ID, spot: p.spot(c.At), cost: fromSeconds(c.Seconds), needs: make([]int, len(p.settings))}
		key := c.At
		for i, s := range p.settings {
			one.needs[i] = -1
			if way, ok := c.Needs[s.id]; ok {
				one.needs[i] = slices.Index(s.ways, way)
				key += "/" + s.id + "=" + way
			}
		}
		for _, id := range c.After {
			if n, ok := number[id]; ok {
				one.after.add(n)
			}
		}
		pairs[key] = true
		p.checks = append(p.checks, one)
	}
	p.pairs = len(pairs)
	for _, c := range sheetOrder {
		p.order = append(p.order, number[c.ID])
	}
}

// node is where a walk can be: a spot, how the settings stand, what is done.
type node struct {
	spot uint8
	ways ways
	done bits
}

// ways is how the settings stand, four bits each.
type ways uint64

func (w ways) of(setting int) int { return int(w >> (4 * setting) & 15) }

func (w ways) with(setting, way int) ways {
	return w&^(15<<(4*setting)) | ways(way)<<(4*setting)
}

func (p *problem) begin() node {
	n := node{spot: uint8(p.start)}
	for i, s := range p.settings {
		n.ways = n.ways.with(i, s.start)
	}
	return n
}

// open reports whether check i can be looked at as things stand.
func (p *problem) open(n node, i int) bool {
	c := &p.checks[i]
	if n.done.has(i) || !c.after.within(n.done) {
		return false
	}
	for s, want := range c.needs {
		if want >= 0 && n.ways.of(s) != want {
			return false
		}
	}
	return true
}

// look does everything that can be looked at where n stands, in the order of
// ids: to leave it for later never makes a walk shorter.
func (p *problem) look(n node, see func(check int)) node {
	for again := true; again; {
		again = false
		here := p.at[n.spot].minus(n.done)
		for i, ok := here.next(0); ok; i, ok = here.next(i + 1) {
			if p.open(n, i) {
				n.done.add(i)
				again = true
				if see != nil {
					see(i)
				}
			}
		}
	}
	return n
}

// complete reports whether everything is done and every setting stands as it
// must; what is left then is the way to the end.
func (p *problem) complete(n node) bool {
	if !p.all.within(n.done) {
		return false
	}
	for i, s := range p.settings {
		if n.ways.of(i) != s.end {
			return false
		}
	}
	return true
}

// inSheetOrder is the walk of someone who follows a list line by line, and
// changes settings whenever a line needs it.
func (p *problem) inSheetOrder(order []int) []step {
	n := p.begin()
	var steps []step
	set := func(s, way int) {
		if n.ways.of(s) != way {
			n.ways = n.ways.with(s, way)
			steps = append(steps, step{setting: s, way: way, check: -1})
		}
	}
	for _, i := range order {
		for s, want := range p.checks[i].needs {
			if want >= 0 {
				set(s, want)
			}
		}
		steps = append(steps, step{setting: -1, check: i})
	}
	for s := range p.settings {
		set(s, p.settings[s].end)
	}
	return steps
}

// plain is a walk in the order of ids, but for what must come after something
// else: there always is one.
func (p *problem) plain() []step {
	var order []int
	var done bits
	for len(order) < len(p.checks) {
		for i := range p.checks {
			if !done.has(i) && p.checks[i].after.within(done) {
				done.add(i)
				order = append(order, i)
			}
		}
	}
	return p.inSheetOrder(order)
}

// step is one stop in the planner's numbers.
type step struct{ setting, way, check int }

func (p *problem) spotOf(s step) int {
	if s.check >= 0 {
		return p.checks[s.check].spot
	}
	return p.settings[s.setting].spot
}

// measure adds up a walk: metres and all, in the planner's units.
func (p *problem) measure(steps []step) (walked, all int64, changes int) {
	at := p.start
	for _, s := range steps {
		to := p.spotOf(s)
		walked += p.distance[at][to]
		at = to
		if s.check >= 0 {
			all += p.checks[s.check].cost
		} else {
			all += p.settings[s.setting].costs[s.way]
			changes++
		}
	}
	walked += p.distance[at][p.end]
	return walked, all + walked, changes
}

func (p *problem) seconds(steps []step) float64 {
	_, all, _ := p.measure(steps)
	return float64(all) / unitsASecond
}

// plan writes a walk out.
func (p *problem) plan(steps []step) Plan {
	walked, all, changes := p.measure(steps)
	plan := Plan{Metres: float64(walked) / unitsAMetre, Walking: float64(walked) / unitsASecond, Seconds: float64(all) / unitsASecond, Changes: changes}
	for _, s := range steps {
		stop := Stop{Do: Check, At: p.spots[p.spotOf(s)].id, Phase: machine.Cold}
		if s.check >= 0 {
			stop.ID = p.checks[s.check].id
		} else {
			stop.Do, stop.ID, stop.To = Set, p.settings[s.setting].id, p.settings[s.setting].ways[s.way]
		}
		plan.Stops = append(plan.Stops, stop)
	}
	return plan
}
