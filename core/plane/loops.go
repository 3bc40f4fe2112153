package plane

// The pieces of a border in the order in which they follow one another.

// Loops are the borders of what is left, each piece followed by the next, for who draws
// them.
func (r Region) Loops() [][]Curve { return r.loops }

func loops(border []Curve) (out [][]Curve) {
	taken, starts := make([]bool, len(border)), make([]Point, len(border))
	for i := range border {
		starts[i] = border[i].A
	}
	for first, c := range border {
		if taken[first] {
			continue
		}
		taken[first] = true
		loop := []Curve{c}
		for {
			end := loop[len(loop)-1].B
			next, far := -1, end.square(c.A)
			for i, start := range starts {
				if taken[i] {
					continue
				}
				if gap := end.square(start); gap < far {
					next, far = i, gap
				}
			}
			if next < 0 {
				break
			}
			taken[next] = true
			loop = append(loop, border[next])
		}
		out = append(out, loop)
	}
	return out
}

// closed reports whether every piece is followed by another.
func closed(loops [][]Curve) bool {
	for _, loop := range loops {
		for i, c := range loop {
			if c.B.Distance(loop[(i+1)%len(loop)].A) > joined {
				return false
			}
		}
	}
	return true
}
