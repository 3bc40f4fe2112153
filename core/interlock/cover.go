package interlock

import "slices"

// coverSteps limits the search for a smallest cover. It counts choices tried,
// never time, so that the same sheet gives the same plan under any load.
const coverSteps = 400_000

// cover finds a smallest choice of options whose union is all of need. It
// returns the numbers of the options, whether no smaller choice exists, and a
// proved least number. Every element of need is in some option.
func cover(need set, options []set) (chosen []int, exact bool, least int) {
	s := &search{options: options, best: greedy(need, options), steps: coverSteps}
	s.least = s.bound(need)
	s.descend(need, nil)
	if s.steps > 0 {
		s.least = len(s.best)
	}
	slices.Sort(s.best)
	return s.best, s.steps > 0 || s.least == len(s.best), s.least
}

type search struct {
	options []set
	best    []int
	least   int
	steps   int
}

func greedy(need set, options []set) []int {
	var chosen []int
	for !need.empty() {
		best, most := -1, 0
		for i, o := range options {
			if n := o.meet(need).count(); n > most {
				best, most = i, n
			}
		}
		chosen = append(chosen, best)
		need = need.minus(options[best])
	}
	return chosen
}

// bound is a number of options no cover of need can do without: elements that
// no single option holds two of.
func (s *search) bound(need set) int {
	n := 0
	for !need.empty() {
		rare := s.rarest(need)
		n++
		var reach set
		for _, o := range s.options {
			if o.has(rare) {
				reach = reach.union(o)
			}
		}
		need = need.minus(reach)
	}
	return n
}

// rarest is the element of need that the fewest options hold.
func (s *search) rarest(need set) int {
	rare, fewest := -1, len(s.options)+1
	for i := range len(need) * 64 {
		if !need.has(i) {
			continue
		}
		n := 0
		for _, o := range s.options {
			if o.has(i) {
				n++
			}
		}
		if n < fewest {
			rare, fewest = i, n
		}
	}
	return rare
}

func (s *search) descend(need set, chosen []int) {
	if need.empty() {
		if len(chosen) < len(s.best) {
			s.best = slices.Clone(chosen)
		}
		return
	}
	if len(chosen)+s.bound(need) >= len(s.best) {
		return
	}
	if s.steps--; s.steps <= 0 {
		return
	}
	rare := s.rarest(need)
	var holders []int
	for i, o := range s.options {
		if o.has(rare) {
			holders = append(holders, i)
		}
	}
	slices.SortStableFunc(holders, func(a, b int) int {
		return s.options[b].meet(need).count() - s.options[a].meet(need).count()
	})
	for _, i := range holders {
		s.descend(need.minus(s.options[i]), append(chosen, i))
		if s.steps <= 0 {
			return
		}
	}
}

// undominated keeps the options that no other option contains; of equal ones
// the first.
func undominated(options []candidate) []candidate {
	slices.SortStableFunc(options, func(a, b candidate) int { return b.catches.count() - a.catches.count() })
	var kept []candidate
	for _, o := range options {
		if !slices.ContainsFunc(kept, func(k candidate) bool { return o.catches.within(k.catches) }) {
			kept = append(kept, o)
		}
	}
	return kept
}
