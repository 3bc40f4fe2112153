package walk

// greedy is a walk that always goes for the point that costs least to get to,
// settings and all; byYield weighs that against how many points can be looked
// at there then.
func (p *problem) greedy(byYield bool) []step {
	var steps []step
	see := func(i int) { steps = append(steps, step{setting: -1, check: i}) }
	n := p.look(p.begin(), see)
	for {
		best, least := -1, 0.0
		for i := range p.checks {
			if n.done.has(i) || !p.checks[i].after.within(n.done) {
				continue
			}
			to, cost := p.reach(n, i, nil)
			weight := float64(cost + 1)
			if byYield {
				weight /= float64(p.count(to.done) - p.count(n.done))
			}
			if best < 0 || weight < least {
				best, least = i, weight
			}
		}
		if best < 0 {
			break
		}
		n, _ = p.reach(n, best, func(s step) { steps = append(steps, s) })
	}
	for s := range p.settings {
		if n.ways.of(s) != p.settings[s].end {
			n.ways = n.ways.with(s, p.settings[s].end)
			steps = append(steps, step{setting: s, way: p.settings[s].end, check: -1})
		}
	}
	return steps
}

// reach goes from n to check i, changes what it needs on the way, the nearest
// first, and looks at everything that can be looked at where it comes by.
func (p *problem) reach(n node, i int, say func(step)) (node, int64) {
	see := func(i int) {
		if say != nil {
			say(step{setting: -1, check: i})
		}
	}
	cost := int64(0)
	for {
		next := -1
		for s, want := range p.checks[i].needs {
			if want >= 0 && n.ways.of(s) != want && (next < 0 || p.distance[n.spot][p.settings[s].spot] < p.distance[n.spot][p.settings[next].spot]) {
				next = s
			}
		}
		if next < 0 {
			break
		}
		one, way := p.settings[next], p.checks[i].needs[next]
		cost += p.distance[n.spot][one.spot] + one.costs[way]
		n.spot = uint8(one.spot)
		n = p.look(n, see)
		n.ways = n.ways.with(next, way)
		if say != nil {
			say(step{setting: next, way: way, check: -1})
		}
		n = p.look(n, see)
	}
	cost += p.distance[n.spot][p.checks[i].spot]
	n.spot = uint8(p.checks[i].spot)
	return p.look(n, see), cost
}

func (p *problem) count(done bits) int {
	n := 0
	for i := range p.checks {
		if done.has(i) {
			n++
		}
	}
	return n
}
