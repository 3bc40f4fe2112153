package machine

// The controls of a machine: what a hand, a foot or the body moves.

import (
	"slices"

	"vespers/core/text"
)

// Control is one thing that is moved on a machine. Its words are said once, here:
// the contacts that it works take theirs from it.
type Control struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	// At is where it is, x and y in the metres of the drawing.
	At []float64 `json:"at" jsonschema:"minItems=2,maxItems=2"`
	// Where is the same in words, from where one sits or stands.
	Where text.Text `json:"where"`
	// Ways are its positions, those beside each other between which a contact
	// changes; what works no contact rests in the first.
	Ways []Position `json:"ways" jsonschema:"minItems=2"`
	// Foot: a foot works it, and nobody does who has risen.
	Foot bool `json:"foot,omitempty"`
	If   If   `json:"if,omitempty"`
}

// Position is one way that a control stands.
type Position struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	// Do is the movement that brings it here, in words that are said of no other.
	Do text.Text `json:"do"`
	// Does is what that does, where the name does not say it.
	Does text.Text `json:"does,omitzero"`
	// Notch: it is held here and comes away only when it is lifted, pressed or
	// pulled; left out, it stays where it is left.
	Notch bool `json:"notch,omitempty"`
	// SpringsTo is the position that it goes to by itself once it is let go.
	SpringsTo string `json:"springs_to,omitempty"`
	// Switches are the contacts that it works, made or broken here.
	Switches map[string]bool `json:"switches,omitempty"`
	// Caution stands where it is brought here.
	Caution text.Text `json:"caution,omitzero"`
}

// Works reports whether the control works a contact.
func (c *Control) Works(contact string) bool {
	return slices.ContainsFunc(c.Ways, func(p Position) bool { _, works := p.Switches[contact]; return works })
}

// Stands is the first position in which the contacts that the control works
// are as given; nil if there is none, or it works none.
func (c *Control) Stands(made map[string]bool) *Position {
	for i, p := range c.Ways {
		as := len(p.Switches) > 0
		for id, want := range p.Switches {
			as = as && made[id] == want
		}
		if as {
			return &c.Ways[i]
		}
	}
	return nil
}

// Way is the position with this id.
func (c *Control) Way(id string) (*Position, bool) {
	for i := range c.Ways {
		if c.Ways[i].ID == id {
			return &c.Ways[i], true
		}
	}
	return nil, false
}

// change is either side of a contact's change: the positions next to each other
// between which the control makes it; ok is false unless it does so exactly once on its
// whole travel.
func (c *Control) change(contact string) (made, broken *Position, ok bool) {
	changes := 0
	for i := 1; i < len(c.Ways); i++ {
		a, b := &c.Ways[i-1], &c.Ways[i]
		switch before, after := a.Switches[contact], b.Switches[contact]; {
		case before && !after:
			changes, made, broken = changes+1, a, b
		case !before && after:
			changes, made, broken = changes+1, b, a
		}
	}
	return made, broken, changes == 1
}

// AllControls lists the controls of a sheet, then each contact that none of them
// works as a control of two ways, whose place is not known: a sheet may be older
// than its drawing of controls.
func (s *Sheet) AllControls() []Control {
	out := slices.Clone(s.Controls)
	for _, sw := range s.Interlock.Switches {
		if slices.ContainsFunc(s.Controls, func(c Control) bool { return c.Works(sw.ID) }) {
			continue
		}
		out = append(out, Control{ID: sw.ID, Name: sw.Label, Ways: []Position{
			{ID: "made", Name: sw.Made, Do: sw.Make, Switches: map[string]bool{sw.ID: true}},
			{ID: "broken", Name: sw.Broken, Do: sw.Break, Caution: sw.Caution, Switches: map[string]bool{sw.ID: false}},
		}})
	}
	return out
}

// Word gives the contacts of a sheet the words of the controls that work them,
// where they have none of their own, and its permits those of what they need.
func (s *Sheet) Word() {
	for i := range s.Interlock.Permits {
		p := &s.Interlock.Permits[i]
		p.First = nil
		for _, c := range s.Controls {
			if way, ok := c.Way(p.Needs[c.ID]); ok && len(c.Ways) > 0 {
				p.First = append(p.First, First{Control: c.ID, Do: way.Do, Back: c.Ways[0].Do, Caution: way.Caution})
			}
		}
	}
	for i := range s.Interlock.Switches {
		sw := &s.Interlock.Switches[i]
		j := slices.IndexFunc(s.Controls, func(c Control) bool { return c.Works(sw.ID) })
		if j < 0 {
			continue
		}
		c := &s.Controls[j]
		made, broken, ok := c.change(sw.ID)
		if !ok {
			continue
		}
		switch {
		case made.SpringsTo != "":
			sw.Held = "made"
		case broken.SpringsTo != "":
			sw.Held = "broken"
		}
		for own, word := range map[*text.Text]text.Text{
			&sw.Label: c.Name, &sw.Made: made.Name, &sw.Broken: broken.Name, &sw.Make: made.Do, &sw.Break: broken.Do, &sw.Caution: broken.Caution,
		} {
			if *own == (text.Text{}) {
				*own = word
			}
		}
	}
}

// The rules that controls are held to.
var (
	RuleControlOnce   = text.NewRule("sheet.control_changes_once", text.Slot{Name: "id", Kind: text.Name})
	RuleControlAll    = text.NewRule("sheet.control_names_all", text.Slot{Name: "id", Kind: text.Name})
	RuleControlTwo    = text.NewRule("sheet.control_shares", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "control", Kind: text.Name})
	RuleControlNone   = text.NewRule("sheet.control_missing", text.Slot{Name: "id", Kind: text.Name})
	RuleControlPlace  = text.NewRule("sheet.control_outside")
	RuleControlSame   = text.NewRule("sheet.control_same_words", text.Slot{Name: "control", Kind: text.Name})
	RuleControlSpring = text.NewRule("sheet.control_springs_and_stays")
)

// reach is how far beside its drawing a control may be, in metres: a door handle,
// a rope.
const reach = 0.6

// controls checks that every contact is worked by one control, which makes it
// once on its travel, and that each movement has words of its own.
func (f *finder) controls() {
	s := f.sheet
	unique(f, "controls", s.Controls, func(c Control) string { return c.ID })
	said, worked := map[text.Text]string{}, map[string]string{}
	for i := range s.Controls {
		c := &s.Controls[i]
		f.control(i, c)
		for j, p := range c.Ways {
			if other, taken := said[p.Do]; taken {
				f.add(RuleControlSame.Says(other), "controls", i, "ways", j, "do")
			}
			said[p.Do] = c.ID
		}
		for _, sw := range s.Interlock.Switches {
			if !c.Works(sw.ID) {
				continue
			}
			if other, taken := worked[sw.ID]; taken {
				f.add(RuleControlTwo.Says(sw.ID, other), "controls", i)
			}
			worked[sw.ID] = c.ID
			if _, _, once := c.change(sw.ID); !once {
				f.add(RuleControlOnce.Says(sw.ID), "controls", i, "ways")
			}
		}
	}
	for i, p := range s.Interlock.Permits {
		for id, way := range p.Needs {
			f.needed(id, way, "interlock", "permits", i, "needs", id)
		}
	}
	for i, sw := range s.Interlock.Switches {
		if worked[sw.ID] == "" && len(s.Controls) > 0 {
			f.add(RuleControlNone.Says(sw.ID), "interlock", "switches", i)
		}
	}
}

// needed checks that a permit needs a position of a control that works no contact
// and does not rest there: what works one stands in the permit's "when".
func (f *finder) needed(id, way string, path ...any) {
	j := slices.IndexFunc(f.sheet.Controls, func(c Control) bool {
		return c.ID == id && !slices.ContainsFunc(c.Ways, func(p Position) bool { return len(p.Switches) > 0 })
	})
	if j < 0 {
		var known []string
		for _, c := range f.sheet.Controls {
			if len(c.Ways[0].Switches) == 0 {
				known = append(known, c.ID)
			}
		}
		f.unknown(id, "sheet.kind.control", known, path...)
		return
	}
	c := &f.sheet.Controls[j]
	if _, ok := c.Way(way); !ok || c.Ways[0].ID == way {
		var known []string
		for _, p := range c.Ways[1:] {
			known = append(known, p.ID)
		}
		f.unknown(way, "sheet.kind.way", known, path...)
	}
}

func (f *finder) control(i int, c *Control) {
	d := f.sheet.Drawing
	if len(c.At) == 2 && (c.At[0] < -reach || c.At[1] < -reach || c.At[0] > d.Width+reach || c.At[1] > d.Length+reach) {
		f.add(RuleControlPlace.Says(), "controls", i, "at")
	}
	ids := map[string]bool{}
	for j, p := range c.Ways {
		if ids[p.ID] {
			f.add(RuleDuplicate.Says(p.ID), "controls", i, "ways", j, "id")
		}
		ids[p.ID] = true
		if _, ok := c.Way(p.SpringsTo); p.SpringsTo != "" && (!ok || p.SpringsTo == p.ID) {
			var known []string
			for _, other := range c.Ways {
				if other.ID != p.ID {
					known = append(known, other.ID)
				}
			}
			f.unknown(p.SpringsTo, "sheet.kind.way", known, "controls", i, "ways", j, "springs_to")
		}
		if p.SpringsTo != "" && p.Notch {
			f.add(RuleControlSpring.Says(), "controls", i, "ways", j, "springs_to")
		}
		for id := range p.Switches {
			if f.sheet.Interlock.Switch(id).ID == "" {
				f.unknown(id, "sheet.kind.switch", switchIDs(f.sheet), "controls", i, "ways", j, "switches", id)
			}
		}
		for _, sw := range f.sheet.Interlock.Switches {
			if _, named := p.Switches[sw.ID]; !named && c.Works(sw.ID) {
				f.add(RuleControlAll.Says(sw.ID), "controls", i, "ways", j)
			}
		}
	}
}

func switchIDs(s *Sheet) (ids []string) {
	for _, sw := range s.Interlock.Switches {
		ids = append(ids, sw.ID)
	}
	return ids
}
