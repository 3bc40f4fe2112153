package plane

// The pieces of a border in the order in which they follow one another.

// Loops are the borders of what is left, each piece followed by the next, for who draws
// them.
func (r Region) Loops() [][]Curve { return r.loops }

func loops(border []Curve) (out [][]Curve) {
	taken := make([]bool, len(border))
	for first, c := range border {
		if taken[first] {
			continue
		}
		taken[first] = true
		loop := []Curve{c}
		for {
			end := loop[len(loop)-1].B
			next, far := -1, end.Distance(c.A)
			for i, d := range border {
				if gap := end.Distance(d.A); !taken[i] && gap < far {
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
