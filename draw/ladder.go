package draw

// Interlocks as ladders of contacts.

import (
	"strings"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
)

// Rung is one permit of a ladder: its contacts from the key to the engine.
type Rung struct {
	Permit string
	Label  text.Text
	// Lit: current passes from end to end.
	Lit   bool
	Scene Scene
	// Contacts are the same in words, in the order they are drawn.
	Contacts []Contact
}

// Contact is one contact of a rung, as it stands.
type Contact struct {
	Label, Position text.Text
	Closed          bool // it conducts
	Changed         bool // the test at hand moves it
}

const (
	contactW = 98.0
	contactH = 66.0 // with a name of one line
	lineH    = 12.0
	gapW     = 14.0
	nameMost = 15 // letters on one line of a name
)

// Ladder draws every permit of a section with the controls as given. Changed
// names the controls that the test at hand moves.
func Ladder(section machine.Interlock, made map[string]bool, changed map[string]bool) []Rung {
	section.Required = nil // what is tested does not change what is drawn
	logic, _ := interlock.Compile(section)
	if logic == nil || logic.None {
		return nil
	}
	l := &ladder{section: section, made: made, changed: changed}
	boxes := make([]box, len(section.Permits))
	width := 0.0 // all rungs are as wide as the widest, so that they share a scale
	for i, p := range section.Permits {
		boxes[i] = l.layout(contacts(whole(logic, p), false))
		width = max(width, boxes[i].w+2*gapW+20)
	}
	var rungs []Rung
	for i, p := range section.Permits {
		b := boxes[i]
		s := Scene{X: 0, Y: 0, W: width, H: b.h + 8}
		mid := b.mid + 4
		lit := b.e.Eval(l.closed)
		s.line("rail", 2, 4, 2, b.h+4)
		s.line("rail", width-2, 4, width-2, b.h+4)
		s.wire(true, 2, mid, gapW+10, mid)
		through := l.place(&s, b, gapW+10, 4, true)
		s.wire(through, gapW+10+b.w, mid, width-2, mid)
		rungs = append(rungs, Rung{Permit: p.ID, Label: p.Label, Lit: lit, Scene: s, Contacts: l.told(b.e)})
	}
	return rungs
}

// whole is what a permit wants, with what the drive wants that turns it.
func whole(logic *interlock.Logic, p machine.Permit) interlock.Expr {
	if by := logic.Permit(p.TurnedBy); by != nil {
		return interlock.And{Terms: []interlock.Expr{by, logic.Permit(p.ID)}}
	}
	return logic.Permit(p.ID)
}

// told lists the contacts of an expression, each once.
func (l *ladder) told(e interlock.Expr) (out []Contact) {
	seen := map[string]bool{}
	var visit func(e interlock.Expr)
	leaf := func(e interlock.Expr, name string) {
		for _, sw := range l.section.Switches {
			if sw.ID != name || seen[name] {
				continue
			}
			seen[name] = true
			c := Contact{Label: sw.Label, Position: sw.Broken, Closed: e.Eval(l.closed), Changed: l.changed[name]}
			if l.made[name] {
				c.Position = sw.Made
			}
			out = append(out, c)
		}
	}
	visit = func(e interlock.Expr) {
		switch of := e.(type) {
		case interlock.Name:
			leaf(e, string(of))
		case interlock.Not:
			if name, ok := of.X.(interlock.Name); ok {
				leaf(e, string(name))
			}
		case interlock.And:
			for _, t := range of.Terms {
				visit(t)
			}
		case interlock.Or:
			for _, t := range of.Terms {
				visit(t)
			}
		}
	}
	visit(e)
	return out
}

type ladder struct {
	section       machine.Interlock
	made, changed map[string]bool
}

func (l *ladder) closed(name string) bool { return l.made[name] }

// box is an expression laid out: terms side by side (and) or one above the
// other (or).
type box struct {
	e     interlock.Expr
	parts []box
	or    bool
	w, h  float64
	mid   float64 // height at which the wire comes in
}

func (l *ladder) layout(e interlock.Expr) box {
	b := box{e: e, w: contactW, h: contactH + lineH*float64(l.nameLines()-1), mid: 20}
	switch e := e.(type) {
	case interlock.And:
		b.w, b.h = 0, 0
		for _, t := range e.Terms {
			p := l.layout(t)
			b.parts = append(b.parts, p)
			b.w += p.w
			b.h = max(b.h, p.h)
		}
	case interlock.Or:
		b.or, b.w, b.h = true, 0, 0
		for _, t := range e.Terms {
			p := l.layout(t)
			b.parts = append(b.parts, p)
			b.w = max(b.w, p.w)
			b.h += p.h
		}
		b.w += 2 * gapW
	}
	return b
}

// place draws a box from x,y; live says whether current reaches it. It
// reports whether current leaves it.
func (l *ladder) place(s *Scene, b box, x, y float64, live bool) bool {
	switch {
	case b.or:
		out, at := false, y
		first, last := y+b.mid, y
		for _, p := range b.parts {
			last = at + p.mid
			s.wire(live, x, last, x+gapW, last)
			passed := l.place(s, p, x+gapW, at, live)
			s.wire(passed, x+gapW+p.w, last, x+b.w, last)
			out = out || passed
			at += p.h
		}
		s.wire(live, x, first, x, last)
		s.wire(out, x+b.w, first, x+b.w, last)
		return out
	case len(b.parts) > 0:
		for _, p := range b.parts {
			live = l.place(s, p, x, y, live)
			x += p.w
		}
		return live
	}
	return l.contact(s, b.e, x, y, live)
}

// contact draws one switch: two posts, and a blade that lies across them or
// stands open. A contact that closes when its switch is broken has a slash.
func (l *ladder) contact(s *Scene, e interlock.Expr, x, y float64, live bool) bool {
	name, inverted := leaf(e)
	closed := e.Eval(l.closed)
	out := live && closed
	mid, a, b := y+20, x+contactW/2-14, x+contactW/2+14
	lines := l.nameLines()
	if l.changed[name] {
		s.rect("changed", x+1, y+1, contactW-2, contactH-6+lineH*float64(lines-1), 8)
	}
	s.wire(live, x, mid, a, mid)
	s.wire(out, b, mid, x+contactW, mid)
	state := "contact open"
	if closed {
		state = "contact closed"
		s.line(state, a, mid, b, mid)
	} else {
		s.line(state, a, mid, b-3, mid-13)
	}
	s.circle("post", a, mid, 3.5)
	s.circle("post", b, mid, 3.5)
	if inverted {
		s.line("slash", a+8, mid+8, b-8, mid-8)
	}
	if sw := l.section.Switch(name); sw.ID != "" {
		position := sw.Broken
		if l.made[name] {
			position = sw.Made
		}
		s.named(x+contactW/2, y+40, sw.Label, position)
	}
	return out
}

// contacts moves every negation down to the single switches, because a ladder
// can only draw a contact as closed by one position or the other.
func contacts(e interlock.Expr, inverted bool) interlock.Expr {
	all := func(terms []interlock.Expr) (out []interlock.Expr) {
		for _, t := range terms {
			out = append(out, contacts(t, inverted))
		}
		return out
	}
	switch e := e.(type) {
	case interlock.Not:
		return contacts(e.X, !inverted)
	case interlock.And:
		if inverted {
			return interlock.Or{Terms: all(e.Terms)}
		}
		return interlock.And{Terms: all(e.Terms)}
	case interlock.Or:
		if inverted {
			return interlock.And{Terms: all(e.Terms)}
		}
		return interlock.Or{Terms: all(e.Terms)}
	}
	if inverted {
		return interlock.Not{X: e}
	}
	return e
}

func leaf(e interlock.Expr) (name string, inverted bool) {
	switch e := e.(type) {
	case interlock.Name:
		return string(e), false
	case interlock.Not:
		name, inverted = leaf(e.X)
		return name, !inverted
	}
	return "", false
}

func (s *Scene) wire(live bool, x1, y1, x2, y2 float64) {
	class := "wire"
	if live {
		class = "wire live"
	}
	s.line(class, x1, y1, x2, y2)
}

// named writes a contact's name and below it its position: in each language as
// many lines as it needs.
func (s *Scene) named(x, y float64, name, position text.Text) {
	for i, line := range wrapped(name, nameMost) {
		s.words("contact-name", x, y+lineH*float64(i), line)
	}
	under := func(label string) float64 { return y + 1 + lineH*float64(len(lines(label, nameMost))) }
	if under(name.EN) == under(name.ES) {
		s.words("contact-position", x, under(name.EN), position)
		return
	}
	s.words("contact-position", x, under(name.EN), text.Text{EN: position.EN})
	s.words("contact-position", x, under(name.ES), text.Text{ES: position.ES})
}

// nameLines is how many lines the longest name of the section takes.
func (l *ladder) nameLines() int {
	most := 1
	for _, sw := range l.section.Switches {
		most = max(most, len(wrapped(sw.Label, nameMost)))
	}
	return most
}

// wrapped breaks a text at its spaces into lines of so many letters, in every
// language; a language that needs fewer lines has empty ones.
func wrapped(t text.Text, most int) []text.Text {
	en, es := lines(t.EN, most), lines(t.ES, most)
	out := make([]text.Text, max(len(en), len(es)))
	for i := range out {
		if i < len(en) {
			out[i].EN = en[i]
		}
		if i < len(es) {
			out[i].ES = es[i]
		}
	}
	return out
}

func lines(s string, most int) []string {
	var out []string
	for _, word := range strings.Fields(s) {
		if n := len(out); n > 0 && len([]rune(out[n-1]))+1+len([]rune(word)) <= most {
			out[n-1] += " " + word
		} else {
			out = append(out, word)
		}
	}
	return out
}
