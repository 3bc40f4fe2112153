package draw

// Labels with a code that opens a machine's page.

import "strings"

// quiet is the empty margin that a reader of a code needs, in modules.
const quiet = 4

// Code is a square code as one path: a module is one unit, dark where black says
// so.
func Code(size int, black func(x, y int) bool) Scene {
	s := Scene{W: float64(size + 2*quiet), H: float64(size + 2*quiet)}
	var d strings.Builder
	for y := range size {
		for x := 0; x < size; x++ {
			run := 0
			for x+run < size && black(x+run, y) {
				run++
			}
			if run > 0 {
				d.WriteString("M" + n(float64(x+quiet)) + " " + n(float64(y+quiet)) + "h" + n(float64(run)) + "v1h-" + n(float64(run)) + "z")
				x += run
			}
		}
	}
	s.path("code", d.String())
	return s
}
