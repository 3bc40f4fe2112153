package draw

import "strings"

// Code is a square code as one path: a module is one unit, dark where true.
func Code(modules [][]bool) Scene {
	s := Scene{W: float64(len(modules)), H: float64(len(modules))}
	var d strings.Builder
	for y, row := range modules {
		for x := 0; x < len(row); x++ {
			run := 0
			for x+run < len(row) && row[x+run] {
				run++
			}
			if run > 0 {
				d.WriteString("M" + n(float64(x)) + " " + n(float64(y)) + "h" + n(float64(run)) + "v1h-" + n(float64(run)) + "z")
				x += run
			}
		}
	}
	s.path("code", d.String())
	return s
}
