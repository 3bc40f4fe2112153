package draw

// How each kind of part is drawn.

import (
	"fmt"
	"math"

	"vespers/core/machine"
)

// drawn tells how each kind of part looks from above. A kind that is not here
// is a plain box of its own class.
var drawn = map[string]func(s *Scene, p machine.Part){
	"wheel": (*Scene).wheel, "castor": (*Scene).castor, "track": (*Scene).track, "deck": (*Scene).deck, "chute": (*Scene).chute, "engine": (*Scene).engine,
	"seat": (*Scene).seat, "lever": (*Scene).lever, "roll_bar": (*Scene).rollBar, "footplate": (*Scene).footplate, "bonnet": (*Scene).bonnet, "cab": (*Scene).cab,
	"hitch": (*Scene).hitch, "tow_bar": (*Scene).towBar, "drum": (*Scene).disc, "feed_table": (*Scene).feedTable, "rollers": (*Scene).rollers,
	"chain_boom": (*Scene).chainBoom, "guide_bar": (*Scene).guideBar, "handle": (*Scene).handle, "saw_body": (*Scene).sawBody, "arm": (*Scene).arm,
	"flail_head": (*Scene).flailHead, "main_broom": (*Scene).mainBroom, "side_broom": (*Scene).sideBroom,
	"hopper": (*Scene).hopper, "panel": (*Scene).panel, "lamp": (*Scene).lamp,
}

func middle(p machine.Part) (x, y float64) { return p.X + p.W/2, p.Y + p.H/2 }

// across draws evenly spaced lines over a part, from side to side.
func (s *Scene) across(class string, p machine.Part, lines int, inset float64) {
	for i := 1; i <= lines; i++ {
		y := p.Y + p.H*float64(i)/float64(lines+1)
		s.line(class, p.X+p.W*inset, y, p.X+p.W*(1-inset), y)
	}
}

// along draws evenly spaced lines over a part, from end to end.
func (s *Scene) along(class string, p machine.Part, lines int, inset float64) {
	for i := 1; i <= lines; i++ {
		x := p.X + p.W*float64(i)/float64(lines+1)
		s.line(class, x, p.Y+p.H*inset, x, p.Y+p.H*(1-inset))
	}
}

func (s *Scene) wheel(p machine.Part) {
	s.rect("part tyre", p.X, p.Y, p.W, p.H, p.W*0.3)
	s.across("tread", p, 4, 0.12)
}

func (s *Scene) castor(p machine.Part) {
	cx, cy := middle(p)
	s.wheel(p)
	s.path("part fork", fmt.Sprintf("M%s %sL%s %sL%s %s", n(p.X-0.03), n(cy), n(cx), n(p.Y+p.H+0.12), n(p.X+p.W+0.03), n(cy)))
}

func (s *Scene) track(p machine.Part) {
	s.rect("part tyre", p.X, p.Y, p.W, p.H, p.W*0.45)
	s.across("tread", p, 11, 0.08)
	s.rect("part plate", p.X+p.W*0.3, p.Y+p.H*0.12, p.W*0.4, p.H*0.76, p.W*0.15)
}

// deck is rounded over each blade and straight between: the shell of a rotary
// deck.
func (s *Scene) deck(p machine.Part) {
	_, cy := middle(p)
	r := p.H * 0.45
	s.path("part shell", fmt.Sprintf("M%s %sQ%s %s %s %sL%s %sQ%s %s %s %sL%s %sQ%s %s %s %sL%s %sQ%s %s %s %sZ",
		n(p.X), n(p.Y+r), n(p.X), n(p.Y), n(p.X+r), n(p.Y), n(p.X+p.W-r), n(p.Y), n(p.X+p.W), n(p.Y), n(p.X+p.W), n(p.Y+r),
		n(p.X+p.W), n(p.Y+p.H-r*0.5), n(p.X+p.W), n(p.Y+p.H), n(p.X+p.W-r), n(p.Y+p.H), n(p.X+r), n(p.Y+p.H), n(p.X), n(p.Y+p.H), n(p.X), n(p.Y+p.H-r*0.5)))
	blades := 2
	if p.W > 1.3 {
		blades = 3
	}
	for i := range blades {
		x := p.X + p.W*(float64(i)+0.5)/float64(blades)
		s.circle("spindle", x, cy, 0.07)
		s.circle("sweep", x, cy, p.W/float64(blades)/2*0.86)
	}
}

func (s *Scene) chute(p machine.Part) {
	s.path("part chute", fmt.Sprintf("M%s %sL%s %sL%s %sL%s %sZ", n(p.X), n(p.Y), n(p.X+p.W), n(p.Y+p.H*0.18), n(p.X+p.W), n(p.Y+p.H), n(p.X), n(p.Y+p.H*0.86)))
	s.across("rib", p, 3, 0)
}

func (s *Scene) engine(p machine.Part) {
	cx, cy := middle(p)
	s.rect("part block", p.X, p.Y, p.W, p.H, 0.06)
	s.circle("part screen", cx, cy, min(p.W, p.H)*0.34)
	s.circle("rib", cx, cy, min(p.W, p.H)*0.2)
}

func (s *Scene) seat(p machine.Part) {
	s.rect("part cushion", p.X, p.Y, p.W, p.H*0.78, 0.12)
	s.rect("part backrest", p.X+0.02, p.Y+p.H*0.72, p.W-0.04, p.H*0.28, 0.08)
}

func (s *Scene) lever(p machine.Part) {
	cx, _ := middle(p)
	s.line("part rod", cx, p.Y+p.H, cx, p.Y)
	s.rect("part grip", p.X, p.Y-0.02, p.W, 0.14, 0.04)
}

func (s *Scene) rollBar(p machine.Part) {
	s.rect("part hoop", p.X, p.Y, p.W, p.H, 0.03)
	s.rect("part hoop", p.X, p.Y, 0.08, p.H+0.16, 0.03)
	s.rect("part hoop", p.X+p.W-0.08, p.Y, 0.08, p.H+0.16, 0.03)
}

func (s *Scene) footplate(p machine.Part) {
	s.rect("part plate", p.X, p.Y, p.W, p.H, 0.03)
	s.across("tread", p, 3, 0.12)
}

// bonnet narrows to a grille.
func (s *Scene) bonnet(p machine.Part) {
	s.path("part bonnet", fmt.Sprintf("M%s %sL%s %sL%s %sL%s %sL%s %sL%s %sZ", n(p.X+p.W*0.14), n(p.Y), n(p.X+p.W*0.86), n(p.Y),
		n(p.X+p.W), n(p.Y+p.H*0.12), n(p.X+p.W), n(p.Y+p.H), n(p.X), n(p.Y+p.H), n(p.X), n(p.Y+p.H*0.12)))
	s.along("rib", machine.Part{X: p.X + p.W*0.2, Y: p.Y, W: p.W * 0.6, H: p.H * 0.1}, 4, 0.1)
	cx, _ := middle(p)
	s.line("rib", cx, p.Y+p.H*0.18, cx, p.Y+p.H*0.92)
}

// cab is seen through: its frame only.
func (s *Scene) cab(p machine.Part) {
	s.rect("part outline", p.X, p.Y, p.W, p.H, 0.14)
	s.line("rib", p.X+0.05, p.Y+0.18, p.X+p.W-0.05, p.Y+0.18)
	s.rect("part grip", p.X+p.W*0.36, p.Y+0.1, p.W*0.28, 0.07, 0.03) // the wheel
}

func (s *Scene) hitch(p machine.Part) {
	s.line("part rod", p.X, p.Y+p.H, p.X+p.W*0.3, p.Y)
	s.line("part rod", p.X+p.W, p.Y+p.H, p.X+p.W*0.7, p.Y)
	s.line("part rod", p.X, p.Y+p.H, p.X+p.W, p.Y+p.H)
	s.circle("spindle", p.X, p.Y+p.H, 0.05)
	s.circle("spindle", p.X+p.W, p.Y+p.H, 0.05)
}

// towBar is a tongue: two beams that meet at the coupling.
func (s *Scene) towBar(p machine.Part) {
	cx, _ := middle(p)
	s.path("part outline", fmt.Sprintf("M%s %sL%s %sL%s %s", n(p.X), n(p.Y+p.H), n(cx), n(p.Y+0.1), n(p.X+p.W), n(p.Y+p.H)))
	s.path("part rod", fmt.Sprintf("M%s %sL%s %sL%s %s", n(p.X), n(p.Y+p.H), n(cx), n(p.Y+0.1), n(p.X+p.W), n(p.Y+p.H)))
	s.rect("part grip", cx-0.07, p.Y, 0.14, 0.18, 0.06)
}

// disc is a chipper's: the housing with the disc and its knives.
func (s *Scene) disc(p machine.Part) {
	cx, cy := middle(p)
	s.rect("part shell", p.X, p.Y, p.W, p.H, p.H*0.3)
	r := min(p.W, p.H) * 0.42
	s.circle("part screen", cx, cy, r)
	for i := range 4 {
		a := float64(i)*math.Pi/2 + 0.4
		s.line("rib", cx+r*0.3*math.Cos(a), cy+r*0.3*math.Sin(a), cx+r*math.Cos(a), cy+r*math.Sin(a))
	}
	s.circle("spindle", cx, cy, r*0.2)
}

// feedTable widens to where the wood goes in; the stop bar runs round its edge.
func (s *Scene) feedTable(p machine.Part) {
	in := p.W * 0.16
	s.path("part plate", fmt.Sprintf("M%s %sL%s %sL%s %sL%s %sZ", n(p.X+in), n(p.Y), n(p.X+p.W-in), n(p.Y), n(p.X+p.W), n(p.Y+p.H), n(p.X), n(p.Y+p.H)))
	s.along("rib", machine.Part{X: p.X + in, Y: p.Y, W: p.W - 2*in, H: p.H}, 4, 0.12)
	s.path("part bar-line", fmt.Sprintf("M%s %sL%s %sL%s %sL%s %s", n(p.X+in*0.4), n(p.Y+p.H*0.4), n(p.X-0.06), n(p.Y+p.H+0.06), n(p.X+p.W+0.06), n(p.Y+p.H+0.06), n(p.X+p.W-in*0.4), n(p.Y+p.H*0.4)))
}

func (s *Scene) rollers(p machine.Part) {
	for i := range 2 {
		one := machine.Part{X: p.X, Y: p.Y + p.H*float64(i)*0.52, W: p.W, H: p.H * 0.44}
		s.rect("part tyre", one.X, one.Y, one.W, one.H, one.H*0.3)
		s.along("tread", one, 9, 0.12)
	}
}

// chainBoom is a digging chain on its boom, teeth out to both sides.
func (s *Scene) chainBoom(p machine.Part) {
	teeth := int(p.H / 0.1)
	for i := range teeth {
		y := p.Y + p.H*(float64(i)+0.5)/float64(teeth)
		out := 0.05
		if i%2 == 0 {
			out = 0.09
		}
		s.line("part rod", p.X-out, y, p.X+p.W+out, y)
	}
	s.rect("part tyre", p.X, p.Y, p.W, p.H, p.W*0.5)
	s.rect("part plate", p.X+p.W*0.3, p.Y+p.W*0.4, p.W*0.4, p.H-p.W*0.6, p.W*0.15)
}

// guideBar is a saw's bar with the chain round it.
func (s *Scene) guideBar(p machine.Part) {
	links := int(p.H / 0.035)
	for i := range links {
		y := p.Y + p.W*0.4 + (p.H-p.W*0.4)*(float64(i)+0.5)/float64(links)
		s.line("tooth", p.X-0.012, y, p.X+p.W+0.012, y-0.012)
	}
	s.rect("part plate", p.X, p.Y, p.W, p.H, p.W*0.5)
	cx, _ := middle(p)
	s.line("rib", cx, p.Y+p.W*0.6, cx, p.Y+p.H*0.9)
	s.circle("spindle", cx, p.Y+p.W*0.5, p.W*0.12)
}

func (s *Scene) handle(p machine.Part) {
	r := min(p.W, p.H) * 0.4
	s.rect("part loop-bar", p.X, p.Y, p.W, p.H, r)
}

func (s *Scene) sawBody(p machine.Part) {
	s.path("part bonnet", fmt.Sprintf("M%s %sL%s %sL%s %sQ%s %s %s %sL%s %sQ%s %s %s %sZ", n(p.X), n(p.Y), n(p.X+p.W), n(p.Y), n(p.X+p.W), n(p.Y+p.H*0.7),
		n(p.X+p.W), n(p.Y+p.H), n(p.X+p.W*0.7), n(p.Y+p.H), n(p.X+p.W*0.3), n(p.Y+p.H), n(p.X), n(p.Y+p.H), n(p.X), n(p.Y+p.H*0.7)))
	s.across("rib", machine.Part{X: p.X, Y: p.Y + p.H*0.3, W: p.W, H: p.H * 0.5}, 4, 0.2)
}

// arm is one length of a boom with a pin at either end.
func (s *Scene) arm(p machine.Part) {
	s.rect("part bonnet", p.X, p.Y, p.W, p.H, min(p.W, p.H)*0.4)
	r := min(p.W, p.H) * 0.26
	if p.W > p.H {
		s.circle("spindle", p.X+2*r, p.Y+p.H/2, r)
		s.circle("spindle", p.X+p.W-2*r, p.Y+p.H/2, r)
		return
	}
	s.circle("spindle", p.X+p.W/2, p.Y+2*r, r)
	s.circle("spindle", p.X+p.W/2, p.Y+p.H-2*r, r)
}

// flailHead is a hood over a shaft of knives.
func (s *Scene) flailHead(p machine.Part) {
	s.rect("part shell", p.X, p.Y, p.W, p.H, 0.08)
	_, cy := middle(p)
	s.line("part rod", p.X+0.06, cy, p.X+p.W-0.06, cy)
	for i := range 9 {
		x := p.X + p.W*(float64(i)+1)/10
		up := p.H * 0.24
		if i%2 == 0 {
			up = -up
		}
		s.line("tooth", x, cy, x+0.03, cy+up)
	}
	s.across("rib", machine.Part{X: p.X, Y: p.Y + p.H, W: p.W, H: 0.12}, 1, 0.04)
}

func (s *Scene) mainBroom(p machine.Part) {
	s.rect("part bristle", p.X, p.Y, p.W, p.H, p.H*0.4)
	s.along("tooth", p, 21, 0.04)
	_, cy := middle(p)
	s.line("part rod", p.X+0.04, cy, p.X+p.W-0.04, cy)
}

func (s *Scene) sideBroom(p machine.Part) {
	cx, cy := middle(p)
	r := min(p.W, p.H) / 2
	s.circle("part bristle", cx, cy, r)
	for i := range 20 {
		a := float64(i) * math.Pi / 10
		s.line("tooth", cx+r*0.4*math.Cos(a), cy+r*0.4*math.Sin(a), cx+r*math.Cos(a+0.12), cy+r*math.Sin(a+0.12))
	}
	s.circle("part plate", cx, cy, r*0.34)
}

func (s *Scene) hopper(p machine.Part) {
	s.path("part bonnet", fmt.Sprintf("M%s %sL%s %sL%s %sL%s %sZ", n(p.X), n(p.Y), n(p.X+p.W), n(p.Y), n(p.X+p.W*0.92), n(p.Y+p.H), n(p.X+p.W*0.08), n(p.Y+p.H)))
	s.across("rib", p, 2, 0.12)
}

func (s *Scene) panel(p machine.Part) {
	s.rect("part plate", p.X, p.Y, p.W, p.H, 0.04)
	for i := range 4 {
		x := p.X + p.W*(float64(i)+1)/5
		s.line("part rod", x, p.Y+p.H*0.75, x, p.Y+p.H*0.3)
		s.circle("spindle", x, p.Y+p.H*0.28, 0.03)
	}
}

func (s *Scene) lamp(p machine.Part) { s.rect("part lamp", p.X, p.Y, p.W, p.H, p.H*0.45) }
