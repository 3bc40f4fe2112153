package tell_test

// What a load sheet says, in words: every part that is short says what stands against it and
// what mends it, in the units of who reads it.

import (
	"strings"
	"testing"
	"time"

	"vespers/core/ground"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/say"
	"vespers/tell"
)

func short() yard.LoadChecked {
	return yard.LoadChecked{
		Ramp:   &yard.LoadRamp{Height: yard.Amount{Value: .6, Doubt: .01}, Length: yard.Amount{Value: 2, Doubt: .01}, Width: yard.Amount{Value: 1.4, Doubt: .01}, Limit: 15, Machine: 1.2, Margin: .3},
		Bridge: &yard.LoadBridge{Height: yard.Amount{Value: 3.95, Doubt: .05}, Bridges: []float64{4.05, 4.6}, Legal: 4, Margin: .1},
		Tow:    &yard.LoadTow{Trailer: yard.Amount{Value: 350}, Machines: []yard.Amount{{Value: 1400}}, Gross: 1500, Rating: 1600, Tongue: &yard.Amount{Value: 20, Doubt: 5}},
		Straps: &yard.LoadStraps{Mass: yard.Amount{Value: 1400}, Ridden: true, Share: ground.StrapShare, Straps: []yard.LoadStrap{{Load: 500, End: ground.Front}, {Load: 500, End: ground.Rear, Cut: true}}},
	}
}

func told(t *testing.T, l text.Language, u unit.System, e yard.LoadChecked) map[string]tell.LoadPart {
	t.Helper()
	out := map[string]tell.LoadPart{}
	for _, part := range tell.Load(say.NewVoice(l, u, time.UTC), e) {
		out[part.ID] = part
	}
	return out
}

func TestALoadSheetInWords(t *testing.T) {
	for part, want := range map[string][]string{
		"ramp":   {" 2.4 m", " 0.4 m", " 1.51 m"}, // asin(0.61 / (2.4 − 0.01)) is under 15°; 1.2 + 0.3 + 0.01
		"bridge": {" 0.1 m"},                      // 4.1 m against 4.0 m
		"tow":    {" 250 kg", " 150 kg"},          // 1,750 kg against 1,500 and 1,600
		"straps": {" 200 kg"},                     // 700 kg against one whole strap of 500
	} {
		got := told(t, text.English, unit.Metric, short())[part]
		all := strings.Join(got.Mend, " ")
		if got.Will || len(got.Mend) == 0 || len(got.Words) < 2 {
			t.Errorf("%s: %+v", part, got)
		}
		for _, one := range want {
			if !strings.Contains(all, one) {
				t.Errorf("%s: no %s in %q", part, one, all)
			}
		}
		feet := strings.Join(told(t, text.Spanish, unit.US, short())[part].Mend, " ")
		if feet == all || strings.Contains(feet, " kg") || strings.Contains(feet, " m ") {
			t.Errorf("%s in feet and pounds: %q", part, feet)
		}
	}
	whole := yard.LoadChecked{Bridge: &yard.LoadBridge{Height: yard.Amount{Value: 3, Doubt: .05}, Bridges: []float64{}, Legal: 4, Margin: .1}}
	got := tell.Load(say.NewVoice(text.English, unit.Metric, time.UTC), whole)
	if len(got) != 1 || !got[0].Will || len(got[0].Mend) > 0 {
		t.Errorf("what will do: %+v", got)
	}
}

// TestHowItRidesInWords: the way round, the posture and who says so.
func TestHowItRidesInWords(t *testing.T) {
	v := say.NewVoice(text.English, unit.Metric, time.UTC)
	if got := tell.Transport(v, nil); got != nil {
		t.Errorf("%q", got)
	}
	of := machine.Transport{Up: machine.Backwards, Source: machine.Manual, Posture: []machine.Posture{{Say: text.Text{EN: "Deck up", ES: "Arriba"}}, {Say: text.Text{EN: "Valve shut", ES: "Cerrada"}}}}
	got := tell.Transport(v, &of)
	if len(got) != 2 || !strings.Contains(got[0], "backwards, down it forwards (the manual)") || !strings.Contains(got[1], "deck up; valve shut") {
		t.Errorf("%q", got)
	}
	of.Up = ""
	if got := tell.Transport(v, &of); len(got) != 1 {
		t.Errorf("nobody says which way round, and: %q", got)
	}
}
