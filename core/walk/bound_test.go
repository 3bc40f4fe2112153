package walk

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

// literalBound reckons the bound from its description: the loop past every
// station still needed, in and out of every place, each change that cannot be
// avoided.
func literalBound(p *problem, n node) int64 {
	needed, total := map[int]bool{}, int64(0)
	for s := range p.settings {
		one := p.settings[s]
		ways := map[int]bool{}
		for i := range p.checks {
			if want := p.checks[i].needs[s]; !n.done.has(i) && want >= 0 && want != n.ways.of(s) {
				ways[want] = true
			}
		}
		if len(ways) == 0 && n.ways.of(s) == one.end {
			continue
		}
		ways[one.end] = true
		for way := range ways {
			total += one.costs[way]
		}
		needed[one.spot] = true
	}
	for i := range p.checks {
		if !n.done.has(i) {
			needed[p.checks[i].spot] = true
		}
	}
	var stations []int64
	for spot := range p.spots {
		if needed[spot] && spot != int(n.spot) {
			stations = append(stations, p.spots[spot].at)
			if spot != p.end {
				total += 2 * p.spots[spot].off
			}
		}
	}
	// Out of where one stands and into the end, but where one never leaves it.
	if int(n.spot) != p.end || len(stations) > 0 {
		total += p.spots[n.spot].off + p.spots[p.end].off
	}
	best := int64(1 << 40)
	var try func(at, walked int64, left []int64)
	try = func(at, walked int64, left []int64) {
		if len(left) == 0 {
			best = min(best, walked+p.round(at, p.spots[p.end].at))
		}
		for i, next := range left {
			try(next, walked+p.round(at, next), slices.Delete(slices.Clone(left), i, i+1))
		}
	}
	slices.Sort(stations)
	try(p.spots[n.spot].at, 0, slices.Compact(stations))
	return total + best
}

// TestTheBoundIsWhatItSays, at the start and all along walks.
func TestTheBoundIsWhatItSays(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 2))
	compared := 0
	for range 250 {
		p := newProblem(randomSheet(r, 3+r.IntN(2), r.IntN(3), r.IntN(3), 1+r.IntN(5)), Options{})
		n := p.look(p.begin(), nil)
		for range 12 {
			if got, want := p.bound(n), literalBound(p, n); got != want {
				t.Fatalf("bound %d, reckoned %d at %+v of %+v", got, want, n, p)
			}
			compared++
			var next []node
			p.moves(n, func(to node, _ step, _ int64) { next = append(next, to) })
			if len(next) == 0 || p.complete(n) {
				break
			}
			n = next[r.IntN(len(next))]
		}
	}
	if compared < 800 {
		t.Errorf("only %d compared", compared)
	}
}

// TestTheSearchLooksAtFewNodes: what a search looks at is counted, on walks of
// which it is known; a worse order of looking, or a weaker bound, shows here
// long before anybody waits for it.
func TestTheSearchLooksAtFewNodes(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 40))
	for i, most := range []struct{ closed, queued int }{{106, 184}, {63, 90}, {29, 86}, {126, 239}, {199, 314}, {319, 685}} {
		sheet := randomSheet(r, 6, 4, 2, 10)
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			p := newProblem(sheet, Options{})
			first := p.look(p.begin(), nil)
			s := newSearcher(p, first)
			_, found := s.forward(-1)
			if closed := s.looked(); !found || closed > most.closed || len(s.known) > most.queued {
				t.Errorf("looked at %d nodes and came by %d, known are %+v", closed, len(s.known), most)
			}
		})
	}
}

// looked counts the nodes that were looked at.
func (s *searcher) looked() (n int) {
	for _, k := range s.known {
		if k.closed {
			n++
		}
	}
	return n
}

// TestTheLimitOfTheSearch counts nodes, and keeps what was proved until then.
func TestTheLimitOfTheSearch(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 41))
	p := newProblem(randomSheet(r, 6, 4, 2, 10), Options{})
	first := p.look(p.begin(), nil)
	for _, limit := range []int{0, 1, 5} {
		t.Run(fmt.Sprint(limit), func(t *testing.T) {
			s := newSearcher(p, first)
			if _, found := s.forward(limit); found || s.looked() != limit {
				t.Errorf("found %v after %d nodes", found, s.looked())
			}
			if s.queue[0].least < p.bound(first) {
				t.Errorf("at least %d, and %d was proved before", s.queue[0].least, p.bound(first))
			}
		})
	}
}
