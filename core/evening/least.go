package evening

// What no plan can go below that goes on from where one is, its machines shared.

import "math"

// bounding is what the bounds are reckoned in, kept from one to the next.
type bounding struct {
	list  []int
	heads []float64
	queue []waiting
}

// waiting is somebody who has jobs left at a place: how long they take there, when the
// first of them can begin, and what is left for them at least once they are through.
type waiting struct {
	person           int
	work, head, tail float64
}

// bounds are a closing time and a sum of going home that no plan from here goes below:
// nobody is home before they have done all that is theirs, places held by nobody; and a
// place serves one after the other.
func (p *proof) bounds() (close, sum float64) {
	p.ends = append(p.ends[:0], p.people...)
	for _, i := range p.y.byStart {
		if p.pending(i) {
			o := &p.y.ops[i]
			q := p.owner[o.machine]
			p.ends[q] = max(p.ends[q], o.release) + o.minutes
		}
	}
	for _, q := range p.owner {
		close = max(close, p.ends[q])
	}
	for _, end := range p.ends {
		sum += end
	}
	if p.heads == nil {
		p.heads = make([]float64, len(p.y.ops))
	}
	plain := sum
	for q, units := range p.places {
		if p.at(q); len(p.list) == 0 {
			continue
		}
		close = max(close, p.y.through(p.list, p.heads, len(units)))
		if len(units) == 1 {
			sum = max(sum, plain+p.served(q))
		}
	}
	return close, sum
}

// at lists the jobs that are left at a place, with when each can start at the earliest.
func (p *proof) at(q int) {
	p.list = p.list[:0]
	free := never
	for _, u := range p.places[q] {
		free = min(free, u)
	}
	for i := range p.y.ops {
		o := &p.y.ops[i]
		if o.place != q || !p.pending(i) {
			continue
		}
		head := p.people[p.owner[o.machine]]
		for b := p.y.first[o.machine]; b < p.y.first[o.machine+1]; b++ {
			if o.before>>p.y.ops[b].job&1 == 1 && p.pending(b) {
				head += p.y.ops[b].minutes
			}
		}
		p.heads[i] = max(head, o.release, free)
		p.list = append(p.list, i)
	}
}

// served is by how much the sum grows at least because a place with one unit serves one
// after the other: whoever is through as the third has waited for the shortest two others.
func (p *proof) served(q int) float64 {
	p.queue = p.queue[:0]
	base := never
	for _, i := range p.list {
		o := &p.y.ops[i]
		base = min(base, p.heads[i])
		who, k := p.owner[o.machine], 0
		for k < len(p.queue) && p.queue[k].person != who {
			k++
		}
		if k == len(p.queue) {
			p.queue = append(p.queue, waiting{person: who, head: math.Inf(1), tail: math.Inf(1)})
		}
		w := &p.queue[k]
		w.work += o.minutes
		w.head, w.tail = min(w.head, p.heads[i]), min(w.tail, o.after)
	}
	if len(p.queue) < 2 {
		return 0
	}
	return p.serve(base, 0, 0)
}

// serve is the least by which those who are not through yet come home later than they
// would with the place free, tried in every order. through is a set of the queue.
func (p *proof) serve(at float64, through uint, behind int) float64 {
	if behind == len(p.queue) {
		return 0
	}
	least := never
	for k := range p.queue {
		if through>>k&1 == 1 {
			continue
		}
		w := &p.queue[k]
		late := max(0, max(at, w.head)+w.work+w.tail-p.ends[w.person])
		if late < least {
			least = min(least, late+p.serve(at+w.work, through|1<<k, behind+1))
		}
	}
	return least
}
