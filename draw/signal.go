package draw

// Hand signals between two people, as a figure seen from the front.

// figure is how the arms of a signal are held, shoulder to elbow to hand, and which way
// they move: arrows from a point to a point.
type figure struct {
	left, right [4]float64 // elbow, hand
	arrows      [][4]float64
}

// The body stands in a frame of 100 by 120.
var signals = map[string]figure{
	// Both arms level and still: nobody goes past.
	"stop": {left: [4]float64{34, 42, 14, 42}, right: [4]float64{66, 42, 86, 42}},
	// Forearms crossed before the chest.
	"off": {left: [4]float64{28, 62, 66, 34}, right: [4]float64{72, 62, 34, 34}},
	// One arm straight up, or out and down, moving so.
	"up":   {left: [4]float64{38, 56, 36, 72}, right: [4]float64{64, 28, 68, 8}, arrows: [][4]float64{{84, 34, 84, 10}}},
	"down": {left: [4]float64{38, 56, 36, 72}, right: [4]float64{66, 50, 80, 62}, arrows: [][4]float64{{90, 44, 90, 70}}},
	// Both hands to the chest, or away from it.
	"in":  {left: [4]float64{26, 54, 44, 48}, right: [4]float64{74, 54, 56, 48}, arrows: [][4]float64{{12, 74, 36, 74}, {88, 74, 64, 74}}},
	"out": {left: [4]float64{34, 52, 18, 48}, right: [4]float64{66, 52, 82, 48}, arrows: [][4]float64{{36, 74, 12, 74}, {64, 74, 88, 74}}},
	// One arm waves overhead from side to side.
	"coming": {left: [4]float64{38, 56, 36, 72}, right: [4]float64{66, 30, 80, 18}, arrows: [][4]float64{{72, 8, 60, 3}, {88, 12, 97, 24}}},
	// Both arms make a ring overhead.
	"clear": {left: [4]float64{28, 24, 48, 6}, right: [4]float64{72, 24, 52, 6}},
}

// Signal draws a hand signal; an empty scene where there is none of the name.
func Signal(id string) Scene {
	s := Scene{W: 100, H: 120}
	f, ok := signals[id]
	if !ok {
		return s
	}
	s.line("signal-body", 50, 32, 50, 76)
	s.line("signal-body", 50, 76, 38, 114)
	s.line("signal-body", 50, 76, 62, 114)
	s.circle("signal-head", 50, 22, 9)
	for i, arm := range [2][4]float64{f.left, f.right} {
		s.path("signal-arm", "M"+n(46+8*float64(i))+" 38L"+n(arm[0])+" "+n(arm[1])+"L"+n(arm[2])+" "+n(arm[3]))
		s.circle("signal-hand", arm[2], arm[3], 4)
	}
	for _, a := range f.arrows {
		s.path("signal-arrow", "M"+n(a[0])+" "+n(a[1])+"L"+n(a[2])+" "+n(a[3]))
		s.path("signal-arrow", arrowHead(a))
	}
	return s
}

// arrowHead is the two strokes at the end of an arrow.
func arrowHead(a [4]float64) string {
	dx, dy := a[2]-a[0], a[3]-a[1]
	long := max(dx, -dx) + max(dy, -dy) // near enough for a head of two strokes
	dx, dy = dx/long*7, dy/long*7
	return "M" + n(a[2]-dx-dy) + " " + n(a[3]-dy+dx) + "L" + n(a[2]) + " " + n(a[3]) + "L" + n(a[2]-dx+dy) + " " + n(a[3]-dy-dx)
}
