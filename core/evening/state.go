package evening

// How far a plan is: what is done, who has what, and since when people and places are
// free. Jobs are put at the end of what their person and place do already; each active
// plan is made so, its jobs in the order in which they start.

import "slices"

type state struct {
	y      *yard
	owner  []int // by machine
	people []float64
	places [][]float64
	done   []uint64 // by machine
	starts []float64
	left   int
	last   []int // by person, the op put last; -1 for none
	// who and what the jobs that may be put next are at odds over
	inPeople, inPlaces []bool
}

func (y *yard) begin(owner []int) *state {
	s := &state{y: y, owner: owner, done: make([]uint64, len(y.Machines)), starts: make([]float64, len(y.ops)), left: len(y.ops)}
	s.people, s.places = y.starting()
	for range s.people {
		s.last = append(s.last, -1)
	}
	s.inPeople, s.inPlaces = make([]bool, len(s.people)), make([]bool, len(s.places))
	return s
}

func (s *state) pending(i int) bool {
	o := &s.y.ops[i]
	return s.done[o.machine]>>o.job&1 == 0
}

// earliest is when an op can start next, and on which unit of its place.
func (s *state) earliest(i int) (at float64, unit int) {
	o := &s.y.ops[i]
	at = max(o.release, s.people[s.owner[o.machine]])
	if o.place < 0 {
		return at, -1
	}
	units := s.places[o.place]
	for u := range units { // the one that is free last, but in time; else the first free
		switch was, is := units[unit], units[u]; {
		case is <= at && (was > at || is > was), is > at && was > at && is < was:
			unit = u
		}
	}
	return max(at, units[unit]), unit
}

// undo is what putting a job takes back.
type undo struct {
	op, unit, last int
	person, place  float64
}

// put starts an op.
func (s *state) put(i int, at float64, unit int) undo {
	o := &s.y.ops[i]
	p := s.owner[o.machine]
	u := undo{op: i, unit: unit, last: s.last[p], person: s.people[p]}
	s.people[p], s.last[p] = at+o.minutes, i
	if unit >= 0 {
		u.place = s.places[o.place][unit]
		s.places[o.place][unit] = at + o.minutes
	}
	s.done[o.machine] |= 1 << o.job
	s.starts[i] = at
	s.left--
	return u
}

func (s *state) take(u undo) {
	o := &s.y.ops[u.op]
	p := s.owner[o.machine]
	s.people[p], s.last[p] = u.person, u.last
	if u.unit >= 0 {
		s.places[o.place][u.unit] = u.place
	}
	s.done[o.machine] &^= 1 << o.job
	s.left++
}

// turned reports whether an op could change places with the one that its person does
// before it, and would be the one to come first: then the two are looked at in that order
// only. The shorter comes first, so that nothing starts later for it.
func (s *state) turned(i int) bool {
	o := &s.y.ops[i]
	b := s.last[s.owner[o.machine]]
	if b < 0 || o.place >= 0 || s.y.ops[b].place >= 0 {
		return false
	}
	was := &s.y.ops[b]
	if o.release > s.starts[b]+same || was.machine == o.machine && o.before>>was.job&1 == 1 {
		return false
	}
	return o.minutes < was.minutes-same || o.minutes < was.minutes+same && i < b
}

// next is a job that may be put next.
type next struct {
	op, unit int
	at       float64
}

// choices are the jobs of which one has to be put next: with the one that could be over
// first, all that could start before that and are at odds with it over a person or a
// place, or with one of those.
func (s *state) choices(list []next) []next {
	list = list[:0]
	first, over := -1, never
	for i := range s.y.ops {
		o := &s.y.ops[i]
		if !s.pending(i) || o.before&^s.done[o.machine] != 0 {
			continue
		}
		at, unit := s.earliest(i)
		list = append(list, next{i, unit, at})
		if at+o.minutes < over-same {
			first, over = len(list)-1, at+o.minutes
		}
	}
	s.join(list[first], true)
	at := func(n next) bool {
		o := &s.y.ops[n.op]
		return n.at < over-same && (s.inPeople[s.owner[o.machine]] || o.place >= 0 && s.inPlaces[o.place])
	}
	for grown := true; grown; {
		grown = false
		for _, n := range list {
			grown = at(n) && s.join(n, false) || grown
		}
	}
	kept := 0
	for i, n := range list {
		if i == first || at(n) {
			list[kept] = n
			kept++
		}
	}
	return list[:kept]
}

// join puts the person and the place of a job among those that are at odds, alone where
// it is the first, and reports whether one of them is new there.
func (s *state) join(n next, alone bool) (grown bool) {
	if alone {
		clear(s.inPeople)
		clear(s.inPlaces)
	}
	o := &s.y.ops[n.op]
	p := s.owner[o.machine]
	grown = !s.inPeople[p]
	s.inPeople[p] = true
	if o.place >= 0 {
		grown = grown || !s.inPlaces[o.place]
		s.inPlaces[o.place] = true
	}
	return grown
}

// finished is the whole plan, once nothing is left.
func (s *state) finished() *schedule {
	out := &schedule{owner: slices.Clone(s.owner), starts: slices.Clone(s.starts)}
	for i := range s.starts {
		out.close = max(out.close, s.starts[i]+s.y.ops[i].minutes)
	}
	for _, free := range s.people {
		out.sum += free
	}
	return out
}
