package outing

import (
	"math"
	"testing"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// TestSlopesAcrossAndUp: of two machines that go out together the lesser limit
// counts each way, and where both ways are alike one is said.
func TestSlopesAcrossAndUp(t *testing.T) {
	degree, _ := unit.Find("°")
	use := func(across, up float64) machine.Use {
		u := machine.Use{ID: "slope", Limit: &across, Unit: "°", Source: machine.Manual}
		if up > 0 {
			u.Up = &up
		}
		return u
	}
	is := func(m *text.Measure, want float64) bool {
		return m != nil && math.Abs(degree.In(m.Quantity)-want) < 1e-9
	}
	for name, test := range map[string]struct {
		uses       []machine.Use
		across, up float64 // up 0: the same
	}{
		"one way alike":                {[]machine.Use{use(15, 0)}, 15, 0},
		"steeper up":                   {[]machine.Use{use(12, 18)}, 12, 18},
		"written alike":                {[]machine.Use{use(12, 12)}, 12, 0},
		"the implement bears less":     {[]machine.Use{use(16, 20), use(10, 0)}, 10, 0},
		"the carrier bears less":       {[]machine.Use{use(10, 0), use(16, 20)}, 10, 0},
		"each bears less one way":      {[]machine.Use{use(16, 18), use(12, 20)}, 12, 18},
		"less up than across is as is": {[]machine.Use{use(15, 8)}, 15, 8},
	} {
		t.Run(name, func(t *testing.T) {
			o := &Outing{}
			for _, u := range test.uses {
				o.Units = append(o.Units, &UnitState{State: inspect.State{Sheet: &machine.Sheet{Uses: []machine.Use{u}}}})
			}
			got, because := o.machinesFor("slope", nil)
			if len(because) > 0 || !is(got.Limit, test.across) {
				t.Fatalf("%+v %v, want %v", got.Limit, because, test.across)
			}
			switch {
			case got.Up == nil && test.up != 0, got.Up != nil && !is(got.Up, test.up):
				t.Errorf("up %+v, want %v", got.Up, test.up)
			}
		})
	}
}
