package ground

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"
)

// lawn is a site with one thing of each kind that a rule knows, all of them far away.
const lawn = `{"type":"FeatureCollection","vespers":{"coordinates":"local","u":0.5},"features":[
{"type":"Feature","id":"lawn","geometry":{"type":"Polygon","coordinates":[[[0,0],[40,0],[40,25],[0,25],[0,0]]]},"properties":{"kind":"zone","surface":"rough","work":"mow","readings":[{"kind":"angle","angle":2,"u":{"angle":0.5}}]}},
{"type":"Feature","id":"edge","geometry":{"type":"LineString","coordinates":[[0,-100],[40,-100]]},"properties":{"kind":"edge","edge":"wall"}},
{"type":"Feature","id":"thing","geometry":{"type":"Point","coordinates":[20,-100]},"properties":{"kind":"thing","thing":"path"}}]}`

const crew = `{"at":"2026-12-01T09:00:00Z","machines":[{"id":"verger","released":true,"does":["mow"],"uses":["near_public","fine_turf","dry_dust","dusk","under_trees"],"slope":{"tiers":[{"limit":10,"never_above":15}],"wet":[{"limit":6,"never_above":8}],"off":{"soft":4},"direction":"any"},"width_m":1.4,"cut_m":1.2,"exclusion_m":15,"reach_m":2.1,"reach_u":0.05,"height_m":1.9,"height_u":0.1,"work":{"km_h":6,"overlap_m":0.2,"efficiency":0.8,"setup_min":5,"burn_l_h":6}}],"people":[{"id":"tobias","machines":["verger"],"slope_practice":["verger"]}]}`

// with replaces text in a file, each of which has to be there.
func with(t *testing.T, file string, pairs ...string) string {
	t.Helper()
	for i := 0; i < len(pairs); i += 2 {
		if !strings.Contains(file, pairs[i]) {
			t.Fatalf("there is no %s", pairs[i])
		}
		file = strings.Replace(file, pairs[i], pairs[i+1], 1)
	}
	return file
}

// ask judges one machine with one person in one zone.
func ask(t *testing.T, site, crew string) (Judgement, Answer) {
	t.Helper()
	s, err := ReadSite([]byte(site))
	if err != nil {
		t.Fatal(err)
	}
	w, err := ReadWith([]byte(crew))
	if err != nil {
		t.Fatal(err)
	}
	judged, err := w.Judge(&s)
	if err != nil {
		t.Fatal(err)
	}
	return judged[0].Rooms[0], judged[0].Rooms[0].Answers[0]
}

// TestVerdicts changes one thing at a time.
func TestVerdicts(t *testing.T) {
	const ten, steep = `"angle":2,"u":{"angle":0.5}`, `"angle":%s,"u":{"angle":0.5}`
	angle := func(deg string) []string { return []string{ten, fmt.Sprintf(steep, deg)} }
	here := func(y string) []string { return []string{`[20,-100]`, `[20,` + y + `]`} }
	edge := func(kind, y string) []string {
		return []string{`"edge":"wall"`, `"edge":"` + kind + `"`, `[[0,-100],[40,-100]]`, `[[0,` + y + `],[40,` + y + `]]`}
	}
	both := func(lists ...[]string) (out []string) {
		for _, l := range lists {
			out = append(out, l...)
		}
		return out
	}
	lit, dusk := []string{`"work":"mow"`, `"work":"mow","light":"lit"`}, []string{`"work":"mow"`, `"work":"mow","light":"dusk"`}
	trench := []string{`"work":"mow"`, `"work":"trench"`}
	for name, c := range map[string]struct {
		site, crew    []string
		because, keep string
	}{
		"as it is":                               {nil, nil, "", ""},
		"not released":                           {nil, []string{`"released":true`, `"released":false`}, "not_released", ""},
		"not qualified":                          {nil, []string{`"machines":["verger"]`, `"machines":[]`}, "not_qualified", ""},
		"other work":                             {nil, []string{`["mow"]`, `["sweep"]`}, "work", ""},
		"not measured":                           {[]string{`,"readings":[{"kind":"angle","angle":2,"u":{"angle":0.5}}]`, ``}, nil, "slope_unknown", ""},
		"not flat any more":                      {angle("2.5"), nil, "", "no_turning"},
		"still flat":                             {angle("2.499"), nil, "", ""},
		"under the limit":                        {angle("9.4"), nil, "", "no_turning"},
		"at the limit":                           {angle("9.5"), nil, "", "up_down no_turning slowly lead_word"},
		"at what is never gone above":            {angle("14.5"), nil, "slope", ""},
		"across, beyond the limit":               {angle("9.5"), []string{`"any"`, `"across"`}, "slope", ""},
		"across":                                 {angle("5"), []string{`"any"`, `"across"`}, "", "across no_turning"},
		"across, on the flat":                    {nil, []string{`"any"`, `"across"`}, "", ""},
		"up and down":                            {angle("5"), []string{`"any"`, `"up_down"`}, "", "up_down no_turning"},
		"turning uphill":                         {angle("5"), []string{`"at"`, `"house":{"turning":"uphill"},"at"`}, "", "turn_uphill"},
		"no practice on slopes":                  {angle("5"), []string{`"slope_practice":["verger"]`, `"slope_practice":[]`}, "slope", ""},
		"no direction":                           {angle("5"), []string{`,"direction":"any"`, ``}, "slope", ""},
		"no slope on the sheet":                  {angle("2.6"), []string{`"slope":{"tiers":[{"limit":10,"never_above":15}],"wet":[{"limit":6,"never_above":8}],"off":{"soft":4},"direction":"any"},`, ``}, "slope", ""},
		"wet":                                    {both(angle("5"), []string{`"work"`, `"wet":true,"work"`}), nil, "", "no_turning"},
		"wet and steeper":                        {both(angle("5.5"), []string{`"work"`, `"wet":true,"work"`}), nil, "", "up_down no_turning slowly lead_word"},
		"wet, twice said":                        {both(angle("5"), []string{`"work"`, `"wet":true,"work"`}), []string{`"width_m"`, `"conditions":["wet"],"width_m"`}, "", "no_turning"},
		"soft":                                   {both(angle("5.5"), []string{`"work"`, `"soft":true,"work"`}), nil, "", "up_down no_turning slowly lead_word"},
		"soft, twice said":                       {both(angle("5"), []string{`"work"`, `"soft":true,"work"`}), []string{`"width_m"`, `"conditions":["soft"],"width_m"`}, "", "no_turning"},
		"slipped":                                {[]string{`"work"`, `"reverse_test":"failed","work"`}, nil, "reverse_test", ""},
		"slipped, and not measured":              {[]string{`"readings":[{"kind":"angle","angle":2,"u":{"angle":0.5}}]`, `"reverse_test":"failed"`}, nil, "slope_unknown reverse_test", ""},
		"held":                                   {[]string{`"work"`, `"reverse_test":"passed","work"`}, nil, "", ""},
		"fine turf":                              {[]string{`"rough"`, `"fine_turf"`}, nil, "", ""},
		"fine turf, not on the sheet":            {[]string{`"rough"`, `"fine_turf"`}, []string{`"fine_turf",`, ``}, "use:fine_turf", ""},
		"fine turf, taken away":                  {[]string{`"rough"`, `"fine_turf"`}, []string{`"width_m"`, `"restrictions":["no_fine_turf"],"width_m"`}, "use:fine_turf", ""},
		"taken away elsewhere":                   {nil, []string{`"width_m"`, `"restrictions":["no_fine_turf","no_near_public"],"width_m"`}, "", ""},
		"dust":                                   {[]string{`"rough"`, `"dust"`}, []string{`"dry_dust",`, ``}, "use:dry_dust", ""},
		"damp dust":                              {[]string{`"rough"`, `"dust","wet":true`}, []string{`"dry_dust",`, ``}, "", ""},
		"dusk":                                   {dusk, []string{`"dusk",`, ``}, "use:dusk", ""},
		"dusk, allowed":                          {dusk, nil, "", ""},
		"lamps":                                  {lit, []string{`"dusk",`, ``}, "", "lead_note"},
		"branches, clear":                        {[]string{`"work"`, `"branches":2.11,"branches_u":0.1,"work"`}, []string{`,"under_trees"`, ``}, "", ""},
		"branches, touching":                     {[]string{`"work"`, `"branches":2.1,"branches_u":0.1,"work"`}, []string{`,"under_trees"`, ``}, "use:under_trees", ""},
		"branches, height not known":             {[]string{`"work"`, `"branches":9,"branches_u":0.1,"work"`}, []string{`,"under_trees"`, ``, `"height_m":1.9,"height_u":0.1,`, ``}, "use:under_trees", ""},
		"a path in the circle":                   {here("-15.5"), nil, "", "public_clear"},
		"a path outside it":                      {here("-15.501"), nil, "", ""},
		"a path in it, not for people":           {here("-15.5"), []string{`"near_public",`, ``}, "use:near_public", ""},
		"people in the circle":                   {both(here("-15.5"), []string{`"thing":"path"`, `"thing":"public"`}), nil, "", "public_clear"},
		"a path beside it":                       {here("-0.5"), nil, "", "public_clear crossings_off"},
		"people beside it":                       {both(here("-0.5"), []string{`"thing":"path"`, `"thing":"public"`}), nil, "", "public_clear"},
		"glass in the circle":                    {both(here("-15.5"), []string{`"thing":"path"`, `"thing":"glass"`}), nil, "", "glass_away"},
		"a pole in the circle":                   {both(here("-0.5"), []string{`"thing":"path"`, `"thing":"pole"`}), nil, "", ""},
		"a road in the circle":                   {edge("road", "-15.5"), nil, "", "flagger"},
		"a road at its side":                     {edge("road", "-4.99"), nil, "", "flagger warning_devices"},
		"a road a bit off":                       {edge("road", "-5"), nil, "", "flagger"},
		"a road beyond a small circle":           {edge("road", "-4.9"), []string{`"exclusion_m":15`, `"exclusion_m":1`}, "", "warning_devices"},
		"a road, by a house that is less strict": {edge("road", "-4"), []string{`"at"`, `"house":{"roadside_m":3},"at"`}, "", "flagger"},
		"a road, by one that is stricter":        {edge("road", "-9"), []string{`"at"`, `"house":{"roadside_m":9},"at"`}, "", "flagger warning_devices"},
		"a fence":                                {edge("fence", "0"), nil, "", ""},
		"guided":                                 {nil, []string{`"width_m"`, `"restrictions":["with_banksman"],"width_m"`}, "", "banksman"},
		"all of it too near":                     {edge("drop", "0"), []string{`"width_m"`, `"setback_m":30,"width_m"`}, "nothing_left", ""},
		"no ticket":                              {trench, []string{`["mow"]`, `["trench"]`}, "ticket", ""},
		"a ticket to the minute":                 {both(trench, []string{`"work"`, `"ticket_until":"2026-12-01T09:00:00Z","work"`}), []string{`["mow"]`, `["trench"]`}, "", ""},
		"a ticket that ran out":                  {both(trench, []string{`"work"`, `"ticket_until":"2026-12-01T08:59:59Z","work"`}), []string{`["mow"]`, `["trench"]`}, "ticket", ""},
		"everything, in order": {both(angle("20"), []string{`"rough"`, `"fine_turf"`, `"work":"mow"`, `"work":"trench","light":"dusk","reverse_test":"failed","branches":1,"branches_u":0`}, here("-10")),
			[]string{`"released":true`, `"released":false`, `"machines":["verger"]`, `"machines":[]`, `["near_public","fine_turf","dry_dust","dusk","under_trees"]`, `[]`},
			"not_released not_qualified work slope reverse_test use:fine_turf use:dusk use:under_trees use:near_public ticket", ""},
	} {
		t.Run(name, func(t *testing.T) {
			_, a := ask(t, with(t, lawn, c.site...), with(t, crew, c.crew...))
			if got := strings.Join(a.Because, " "); got != c.because || a.Allowed != (c.because == "") {
				t.Errorf("because %q (%v), not %q", got, a.Allowed, c.because)
			}
			if got := strings.Join(a.Keep, " "); got != c.keep || a.Watch != strings.Contains(c.keep, "slowly") {
				t.Errorf("keep %q (%v), not %q", got, a.Watch, c.keep)
			}
		})
	}
}

// TestWhatIsOut of a lawn of 40 by 25 m, by hand.
func TestWhatIsOut(t *testing.T) {
	wall := []string{`[[0,-100],[40,-100]]`, `[[0,0],[40,0]]`}
	line := `{"type":"Feature","id":"line","geometry":{"type":"LineString","coordinates":[[-50,25],[90,25]]},"properties":{"kind":"thing","thing":"overhead_line"%s}},
{"type":"Feature","id":"edge"`
	over := func(more string) []string {
		return []string{`{"type":"Feature","id":"edge"`, fmt.Sprintf(line, more)}
	}
	service := []string{`[20,-100]`, `[20,10]`, `"thing":"path"`, `"thing":"marked_service"`}
	for name, c := range map[string]struct {
		site, crew []string
		out        map[string]float64
		left       float64
	}{
		"two cutting widths and the doubt": {wall, nil, map[string]float64{BySetback: 2.9 * 40}, 1000 - 116},
		"no cutting width: the machine's":  {wall, []string{`"cut_m":1.2,`, ``}, map[string]float64{BySetback: 3.3 * 40}, 1000 - 132},
		"one width of the machine":         {wall, []string{`"at"`, `"house":{"setback":{"machine_widths":1}},"at"`}, map[string]float64{BySetback: 1.9 * 40}, 1000 - 76},
		"what the sheet says":              {wall, []string{`"width_m"`, `"setback_m":4,"width_m"`}, map[string]float64{BySetback: 4.5 * 40}, 1000 - 180},
		"a fence is no drop":               {append([]string{`"edge":"wall"`, `"edge":"fence"`}, wall...), nil, nil, 1000},
		"a line of no known height":        {over(``), nil, map[string]float64{ByOverhead: 3.5 * 40}, 1000 - 140},
		"a line just reached":              {over(`,"height":5.25,"height_u":0.1`), nil, map[string]float64{ByOverhead: 140}, 1000 - 140},
		"a line not reached":               {over(`,"height":5.26,"height_u":0.1`), nil, nil, 1000},
		"a reach that nobody knows":        {over(`,"height":9,"height_u":0.1`), []string{`"reach_m":2.1,"reach_u":0.05,`, ``}, map[string]float64{ByOverhead: 140}, 1000 - 140},
		"more for more voltage":            {over(`,"height":5.26,"height_u":0.1,"clearance":6`), nil, map[string]float64{ByOverhead: 6.5 * 40}, 1000 - 260},
		"a service, not dug":               {service, nil, nil, 1000},
		"a service, dug": {append([]string{`"work":"mow"`, `"work":"trench","ticket_until":"2026-12-02T00:00:00Z"`}, service...), []string{`["mow"]`, `["trench"]`},
			map[string]float64{ByHandDig: math.Pi * 1.1 * 1.1}, 1000 - math.Pi*1.1*1.1},
		"a wall and a line that overlap": {append(over(``), `[[0,-100],[40,-100]]`, `[[0,25],[40,25]]`), nil,
			map[string]float64{BySetback: 116, ByOverhead: 140}, 1000 - 140},
	} {
		t.Run(name, func(t *testing.T) {
			room, _ := ask(t, with(t, lawn, c.site...), with(t, crew, c.crew...))
			if math.Abs(room.Left-c.left) > 1e-3 {
				t.Errorf("%.4f left, not %.4f", room.Left, c.left)
			}
			got := map[string]float64{}
			for _, o := range room.Out {
				got[o.Because] = math.Round(o.Area*1000) / 1000
			}
			for because, area := range c.out {
				c.out[because] = math.Round(area*1000) / 1000
			}
			if len(got)+len(c.out) > 0 && !reflect.DeepEqual(got, c.out) {
				t.Errorf("out %v, not %v", got, c.out)
			}
		})
	}
}

// TestOneSquareMetre is something, less is nothing.
func TestOneSquareMetre(t *testing.T) {
	for ring, because := range map[string]string{`[[[0,0],[1,0],[1,1],[0,1],[0,0]]]`: "", `[[[0,0],[1,0],[1,0.99],[0,0.99],[0,0]]]`: "nothing_left"} {
		if _, a := ask(t, with(t, lawn, `[[[0,0],[40,0],[40,25],[0,25],[0,0]]]`, ring), crew); strings.Join(a.Because, " ") != because {
			t.Errorf("%s: %v", ring, a.Because)
		}
	}
}

// TestWorkAndFuel: 1000 m² at 100 m a minute and a metre wide, four fifths of the time.
func TestWorkAndFuel(t *testing.T) {
	for name, c := range map[string]struct {
		crew            []string
		minutes, litres float64 // -1 for what nobody can say
	}{
		"as it is":      {nil, 17.5, 1.75},
		"no burn":       {[]string{`,"burn_l_h":6`, ``}, 17.5, -1},
		"no speed":      {[]string{`"km_h":6,`, ``}, -1, -1},
		"no overlap":    {[]string{`"overlap_m":0.2,`, ``}, -1, -1},
		"no cut":        {[]string{`"cut_m":1.2,`, ``}, -1, -1},
		"no efficiency": {[]string{`"efficiency":0.8,`, ``}, -1, -1},
		"no set-up":     {[]string{`"setup_min":5,`, ``}, -1, -1},
	} {
		room, _ := ask(t, lawn, with(t, crew, c.crew...))
		for _, number := range []struct {
			got  *float64
			want float64
		}{{room.Minutes, c.minutes}, {room.Litres, c.litres}} {
			if (number.got == nil) != (number.want < 0) || number.got != nil && math.Abs(*number.got-number.want) > 1e-9 {
				t.Errorf("%s: %v, not %v", name, number.got, number.want)
			}
		}
	}
	if room, _ := ask(t, with(t, lawn, `[[0,-100],[40,-100]]`, `[[0,0],[40,0]]`), with(t, crew, `"width_m"`, `"setback_m":30,"width_m"`)); room.Minutes != nil || room.Litres != nil || room.Left != 0 || len(room.Near) > 0 {
		t.Errorf("nothing left: %+v", room)
	}
}

// TestWorseNeverAllowsMore: a steeper, wetter, softer or nearer site never lets a machine
// onto more, nor lets one on that was refused.
func TestWorseNeverAllowsMore(t *testing.T) {
	for seed := range uint64(400) {
		d := rand.New(rand.NewPCG(seed, 5))
		deg, doubt, y := 12*d.Float64(), 2*d.Float64(), 30*d.Float64()-30
		site := func(deg, doubt, y float64, more string) string {
			return with(t, lawn, `"angle":2`, fmt.Sprintf(`"angle":%v`, deg), `"u":0.5}`, fmt.Sprintf(`"u":%v}`, doubt), `[[0,-100],[40,-100]]`, fmt.Sprintf(`[[0,%v],[40,%v]]`, y, y),
				`[20,-100]`, fmt.Sprintf(`[20,%v]`, y-1), `"work"`, more+`"work"`)
		}
		crew := with(t, crew, `["near_public"`, []string{`["near_public"`, `["dusk"`}[d.IntN(2)], `"dry_dust","dusk"`, `"dry_dust"`)
		room, before := ask(t, site(deg, doubt, y, ""), crew)
		for name, worse := range map[string]string{"steeper": site(deg+d.Float64(), doubt, y, ""), "in more doubt": site(deg, doubt+d.Float64(), y, ""),
			"wet": site(deg, doubt, y, `"wet":true,`), "soft": site(deg, doubt, y, `"soft":true,`), "slipping": site(deg, doubt, y, `"reverse_test":"failed",`)} {
			after, then := ask(t, worse, crew)
			if then.Allowed && !before.Allowed || then.Allowed && !then.Watch && before.Watch || after.Left > room.Left+1e-6 || len(after.Near) < len(room.Near) && after.Left > 0 {
				t.Errorf("seed %d, %s: %v %v, then %v %v", seed, name, before, room.Left, then, after.Left)
			}
		}
	}
}
