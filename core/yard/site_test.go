package yard_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/core/ground"
	"vespers/core/yard"
)

// hillside is a site with a lawn, a bank that was measured, a trench and a wall.
const hillside = `{"type":"FeatureCollection","vespers":{"coordinates":"local","u":0.4},"features":[
{"type":"Feature","id":"lawn","geometry":{"type":"Polygon","coordinates":[[[0,0],[40,0],[40,40],[0,40],[0,0]]]},"properties":{"kind":"zone","name":"Lawn","surface":"rough","work":"mow","priority":2,"readings":[{"kind":"angle","angle":1,"u":{"angle":0.5}},{"kind":"angle","angle":1,"u":{"angle":0.5}}]}},
{"type":"Feature","id":"bank","geometry":{"type":"Polygon","coordinates":[[[60,0],[90,0],[90,30],[60,30],[60,0]]]},"properties":{"kind":"zone","name":"Bank","surface":"rough","work":"mow","readings":[{"kind":"angle","angle":29,"u":{"angle":1}}]}},
{"type":"Feature","id":"trench","geometry":{"type":"Polygon","coordinates":[[[0,60],[20,60],[20,62],[0,62],[0,60]]]},"properties":{"kind":"zone","name":"Trench","surface":"rough","work":"trench"}},
{"type":"Feature","id":"wall","geometry":{"type":"LineString","coordinates":[[-20,0],[-20,40]]},"properties":{"kind":"edge","edge":"wall","name":"Wall"}},
{"type":"Feature","id":"fuel","geometry":{"type":"Point","coordinates":[0,-10]},"properties":{"kind":"thing","thing":"fuel_point"}}]}`

// settled is a town with the hillside.
func settled(t *testing.T) *town {
	w := newTown(t)
	w.must("maren", yard.ImportSite{File: []byte(hillside)})
	return w
}

func zone(t *testing.T, w *town, id string) ground.Zone {
	t.Helper()
	site, err := yard.SiteToday(w, w.at)
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(site.Zones, func(z ground.Zone) bool { return z.ID == id })
	if i < 0 {
		t.Fatalf("no zone %s", id)
	}
	return site.Zones[i]
}

// TestASiteIsImported: what cannot be read is refused with its reason, what is there is
// replaced only by who says so.
func TestASiteIsImported(t *testing.T) {
	w := newTown(t)
	for file, rule := range map[string]string{
		"":   "file.json",
		"[]": "file.type",
		strings.Replace(hillside, `"features"`, `"crs":{},"features"`, 1):                                                                            "ground.reference_system",
		strings.Replace(hillside, `[40,40],[0,40]`, `[0,40],[40,40]`, 1):                                                                             "ground.polygon",
		strings.Replace(hillside, `"u":0.4`, `"u":-1`, 1):                                                                                            "file.number",
		strings.Replace(hillside, `"id":"bank"`, `"id":"lawn"`, 1):                                                                                   "file.twice",
		strings.Replace(hillside, `}}]}`, `}}], "more":"`+strings.Repeat("x", 2<<20)+`"}`, 1):                                                        "site.too_large",
		`{"type":"FeatureCollection","vespers":{"coordinates":"local","u":1},"features":[` + strings.TrimSuffix(strings.Repeat("0,", 1), ",") + `]}`: "file.type",
	} {
		w.refused("maren", yard.ImportSite{File: []byte(file)}, rule)
	}
	// A line of more places than a verdict should go along, and too many of all together.
	long := func(lines, places int) []byte {
		at := strings.LastIndex(hillside, "]}")
		var made strings.Builder
		for i := range lines {
			fmt.Fprintf(&made, `,{"type":"Feature","id":"far%d","properties":{"kind":"edge","edge":"fence"},"geometry":{"type":"LineString","coordinates":[[0,0]%s]}}`, i, strings.Repeat(",[1,1],[0,0]", places/2))
		}
		return []byte(hillside[:at] + made.String() + hillside[at:])
	}
	w.refused("maren", yard.ImportSite{File: long(1, 1002)}, "site.too_large")
	w.refused("maren", yard.ImportSite{File: long(25, 900)}, "site.too_large")
	w.must("maren", yard.ImportSite{File: long(3, 900)})
	w.must("maren", yard.ImportSite{File: []byte(hillside), Over: true})
	w.refused("maren", yard.ImportSite{File: []byte(hillside)}, "site.there_already")
	w.must("maren", yard.ImportSite{File: []byte(hillside), Over: true})
	if got := len(yard.SiteOf(w).Features); got != 5 {
		t.Errorf("%d features", got)
	}
}

// TestASiteIsDrawn: from nothing, by typed places; an edit keeps what it does not ask for;
// what is no zone is refused and changes nothing.
func TestASiteIsDrawn(t *testing.T) {
	w := newTown(t)
	mow := map[string]any{"surface": "rough", "work": "mow"}
	square := "0 0\n12,5 0\n12.5; 10\n\n0 10"
	w.must("maren", yard.DrawFeature{Name: "Núñez’s lawn", Kind: "zone", Along: square, Properties: mow})
	w.must("maren", yard.DrawFeature{Name: "Núñez’s lawn", Kind: "zone", Along: square, Properties: mow})
	w.must("maren", yard.DrawFeature{Name: "–", Kind: "thing", Along: "3 4", Properties: map[string]any{"thing": "stump"}})
	w.must("maren", yard.DrawFeature{Name: "Wall", Kind: "edge", Along: "0 -5\n10 -5", Properties: map[string]any{"edge": "wall"}})
	var ids []string
	for _, f := range yard.SiteOf(w).Features {
		ids = append(ids, f.ID())
	}
	if !slices.Equal(ids, []string{"núñez_s_lawn", "núñez_s_lawn_2", "place", "wall"}) {
		t.Errorf("%q", ids)
	}
	if z := zone(t, w, "núñez_s_lawn"); z.Shape.Area() != 125 {
		t.Errorf("%v m²", z.Shape.Area())
	}
	before := string(yard.SiteOf(w).Bytes())
	for rule, c := range map[string]yard.DrawFeature{
		"site.kind":            {Name: "x", Kind: "pond", Along: square},
		"person.name_needed":   {Kind: "zone", Along: square, Properties: mow},
		"typed.too_long":       {Name: strings.Repeat("x", 61), Kind: "zone", Along: square, Properties: mow},
		"site.places":          {Name: "x", Kind: "zone", Along: "0 0\n1 a\n2 2", Properties: mow},
		"site.too_few_places":  {Name: "x", Kind: "zone", Along: "0 0\n1 1", Properties: mow},
		"ground.polygon":       {Name: "x", Kind: "zone", Along: "0 0\n1 1\n1 0\n0 1", Properties: mow},
		"file.missing":         {Name: "x", Kind: "zone", Along: square, Properties: map[string]any{"surface": "rough"}},
		"file.unknown_word":    {Name: "x", Kind: "zone", Along: square, Properties: map[string]any{"surface": "lava", "work": "mow"}},
		"site.no_such_feature": {ID: "wall", Name: "x", Kind: "zone", Along: square, Properties: mow},
		"site.too_large":       {Name: "x", Kind: "edge", Along: strings.Repeat("1 1\n", 1001), Properties: map[string]any{"edge": "wall"}},
	} {
		w.refused("maren", c, rule)
	}
	if string(yard.SiteOf(w).Bytes()) != before {
		t.Error("what was refused changed the site")
	}
	w.must("maren", yard.DrawFeature{ID: "wall", Name: "Old wall", Kind: "edge", Along: "0 -6\n10 -6", Properties: map[string]any{"edge": "wall", "age": "old"}})
	w.must("maren", yard.DrawFeature{ID: "wall", Name: "Wall", Kind: "edge", Along: "0 -7\n10 -7"})
	wall, _ := yard.SiteOf(w).Feature("wall")
	if wall.Name() != "Wall" || wall.Properties()["age"] != "old" || wall.Properties()["edge"] != "wall" {
		t.Errorf("%v", wall)
	}
	// A building stays one when it is renamed, its inside and its heights too; a garden bed
	// that is cut out of a lawn stays out when the lawn is drawn anew.
	w.must("maren", yard.DrawFeature{Name: "Hut", Kind: "thing", Area: true, Along: "50 50\n54 50\n54 54\n50 54", Properties: map[string]any{"thing": "public"}})
	w.must("maren", yard.DrawFeature{ID: "hut", Name: "Old hut", Kind: "thing", Along: "50 50\n54 50\n54 55\n50 55"})
	hut, _ := yard.SiteOf(w).Shape("hut")
	if !hut.Filled || hut.Area() != 20 {
		t.Errorf("%+v", hut)
	}
	w.refused("maren", yard.DrawFeature{ID: "place", Name: "Stump", Kind: "thing", Along: "1 1\n2 2"}, "site.one_place")
	holed := ground.Feature{"type": "Feature", "id": "holed", "geometry": map[string]any{"type": "Polygon", "coordinates": []any{
		[]any{[]any{100, 0, 7}, []any{120, 0}, []any{120, 20}, []any{100, 20}, []any{100, 0, 7}}, []any{[]any{105, 5}, []any{110, 5}, []any{110, 10}, []any{105, 5}}}},
		"properties": map[string]any{"kind": "zone", "surface": "rough", "work": "mow"}}
	read, err := ground.ReadFeature(holed.Bytes())
	w.redraw(read, err)
	w.must("maren", yard.DrawFeature{ID: "holed", Name: "Lawn", Kind: "zone", Along: "100 0\n120 0\n120 20\n100 20"})
	if same, _ := yard.SiteOf(w).Feature("holed"); !strings.Contains(string(same.Bytes()), "[100,0,7]") {
		t.Errorf("its heights are gone: %s", same.Bytes())
	}
	w.must("maren", yard.DrawFeature{ID: "holed", Name: "Lawn", Kind: "zone", Along: "100 0\n130 0\n130 20\n100 20"})
	if lawn, _ := yard.SiteOf(w).Shape("holed"); lawn.Area() != 600-12.5 {
		t.Errorf("%v m²: the bed is mown", lawn.Area())
	}
	w.refused("maren", yard.DrawFeature{ID: "holed", Name: "Lawn", Kind: "zone", Along: "110 0\n130 0\n130 20\n110 20"}, "ground.polygon")
	w.must("maren", yard.DrawFeature{ID: "wall", Name: "Wall", Kind: "edge", Along: "0 -7\n10 -7", Properties: map[string]any{"age": nil}})
	if wall, _ := yard.SiteOf(w).Feature("wall"); wall.Properties()["age"] != nil {
		t.Errorf("its age was cleared: %v", wall)
	}
	w.must("maren", yard.DropFeature{ID: "wall"})
	w.refused("maren", yard.DropFeature{ID: "wall"}, "ground.no_such_feature")
}

// TestABankIsMeasured: in each of the ways, with its instrument; what says nothing is
// refused, and a lead takes a wrong reading back.
func TestABankIsMeasured(t *testing.T) {
	w := settled(t)
	measure := func(way string, numbers, doubts map[string]string) yard.MeasureBank {
		return yard.MeasureBank{Zone: "bank", Way: way, With: "Gauge on the board", Numbers: numbers, Doubts: doubts}
	}
	type m = map[string]string
	w.must("ida", measure("angle", m{"angle": "13,5"}, m{"angle": "1"}))
	w.must("ida", measure("drop", m{"drop": "0.25", "length": "1.2"}, m{"drop": "0.005", "length": "0.005"}))
	w.must("ida", measure("rise_run", m{"rise": "1", "run": "5"}, m{"rise": "0", "run": "0"}))
	w.must("ida", measure("percent", m{"percent": "15"}, m{"percent": "1"}))
	if z := zone(t, w, "bank"); len(z.Readings) != 5 || z.Readings[1].Up.Value != 13.5 {
		t.Errorf("%+v", z.Readings)
	}
	bank, _ := yard.SiteOf(w).Feature("bank")
	if said := bank.Said(); said[0] != (ground.Said{}) || said[4].With != "Gauge on the board" || said[4].By != "ida" || said[4].At == "" {
		t.Errorf("%+v", said)
	}
	for rule, c := range map[string]yard.MeasureBank{
		"site.way":                    measure("by eye", m{}, m{}),
		"site.number":                 measure("angle", m{"angle": "steep"}, m{"angle": "1"}),
		"file.number":                 measure("angle", m{"angle": "-3"}, m{"angle": "1"}),
		"ground.reading_says_nothing": measure("drop", m{"drop": "0.2", "length": "0.004"}, m{"drop": "0", "length": "0.005"}),
		"site.instrument":             {Zone: "bank", Way: "angle", Numbers: m{"angle": "3"}, Doubts: m{"angle": "1"}},
		"site.no_such_zone":           {Zone: "wall", Way: "angle", With: "Gauge", Numbers: m{"angle": "3"}, Doubts: m{"angle": "1"}},
	} {
		w.refused("ida", c, rule)
	}
	w.refused("ida", measure("angle", m{"angle": "3"}, m{}), "site.number") // no doubt said
	w.refused("maren", yard.DropReading{Zone: "bank", N: 5}, "site.no_such_reading")
	w.must("maren", yard.DropReading{Zone: "bank", N: 1})
	if z := zone(t, w, "bank"); len(z.Readings) != 4 || z.Readings[1].Kind != "drop" {
		t.Errorf("%+v", z.Readings)
	}
}

// TestTheSiteToday: weather, light, the walk and a trial make it worse, for the day; none
// makes it better than it was drawn.
func TestTheSiteToday(t *testing.T) {
	w := settled(t)
	if z := zone(t, w, "bank"); z.Wet || z.Soft || z.ReverseFailed || z.Light != ground.Day {
		t.Errorf("%+v", z)
	}
	for rule, c := range map[string]yard.WalkZone{
		"site.no_such_zone": {Zone: "wall", Grass: "dry", Ground: "firm"},
		"site.walk_ground":  {Zone: "bank", Grass: "dry"},
		"site.walk_item":    {Zone: "bank", Grass: "dry", Ground: "firm", Items: []string{"marks"}},
		"typed.too_long":    {Zone: "bank", Grass: "dry", Ground: "firm", Told: strings.Repeat("x", 401)},
	} {
		w.refused("ida", c, rule)
	}
	w.must("ida", yard.WalkZone{Zone: "bank", Grass: "wet", Ground: "soft", Items: []string{"loose", "people", "loose"}, Told: " Wire by the wall "})
	walked := yard.WalkedToday(w, "bank", w.at)
	z := zone(t, w, "bank")
	if walked == nil || walked.Told != "Wire by the wall" || !z.Wet || !z.Soft || !slices.Equal(walked.OpenItems(&z), []string{"flags", "branches"}) {
		t.Errorf("%+v %+v", walked, z)
	}
	trench := zone(t, w, "trench")
	if !slices.Equal(yard.WalkItems(&trench), []string{"loose", "flags", "marks", "branches", "people"}) {
		t.Errorf("%v", yard.WalkItems(&trench))
	}
	w.must("ida", yard.WalkZone{Zone: "bank", Grass: "dry", Ground: "firm"})
	w.refused("ida", yard.TryBank{Zone: "bank", How: "maybe"}, "site.tried")
	w.must("ida", yard.TryBank{Zone: "bank", How: "slipped"})
	if z := zone(t, w, "bank"); z.Wet || z.Soft || !z.ReverseFailed {
		t.Errorf("%+v", z)
	}
	w.must("ida", yard.TryBank{Zone: "bank", How: "held"})
	if z := zone(t, w, "bank"); z.ReverseFailed {
		t.Error("the wheels held, and it is closed")
	}
	w.must("ida", yard.TryBank{Zone: "bank", How: "slipped"})
	// What is drawn so stays so, whatever the day says.
	w.must("maren", yard.DrawFeature{Name: "Bog", Kind: "zone", Along: "0 -90\n20 -90\n20 -70\n0 -70", Properties: map[string]any{"surface": "rough", "work": "mow", "wet": true, "soft": true, "light": "lit"}})
	w.must("ida", yard.WalkZone{Zone: "bog", Grass: "dry", Ground: "firm"})
	w.must("maren", yard.SayWeather{Grass: "dry", Light: "poor", Storm: "none"})
	if z := zone(t, w, "bog"); !z.Wet || !z.Soft || z.Light != ground.Lit {
		t.Errorf("%+v", z)
	}
	w.must("maren", yard.SayWeather{Grass: "frozen", Light: "poor", Storm: "about"})
	if z := zone(t, w, "lawn"); !z.Wet || z.Light != ground.Dusk {
		t.Errorf("%+v", z)
	}
	if !yard.StormToday(w, w.at) {
		t.Error("no storm")
	}
	// In the dark nobody works but where it is lit, also with what may work at dusk.
	w.must("maren", yard.SayWeather{Grass: "dry", Light: "dark", Storm: "none"})
	owl := ground.Machine{ID: "owl", Released: true, Does: []string{"mow"}, Width: 1, Uses: []string{"dusk"}, Slope: ground.Slope{Tiers: []ground.Tier{{Limit: 15, NeverAbove: 18}}, Direction: ground.AnyWays, Wet: []ground.Tier{{Limit: 15, NeverAbove: 18}}, Off: map[string]float64{ground.Soft: 0}}}
	site, err := yard.SiteToday(w, w.at)
	if err != nil {
		t.Fatal(err)
	}
	for id, want := range map[string]bool{"lawn": false, "bog": true} {
		z := zone(t, w, id)
		if id == "bog" {
			z.Readings = zone(t, w, "lawn").Readings
		}
		a := ground.Ruled().Answer(ground.Ruled().Room(&site, &z, &owl), ground.Person{ID: "ida", Machines: []string{"owl"}, Practised: []string{"owl"}}, w.at)
		if a.Allowed != want || !want && !slices.Equal(a.Because, []string{"use:dusk"}) {
			t.Errorf("%s in the dark: %+v", id, a)
		}
	}
	w.at = w.at.Add(24 * time.Hour)
	if z := zone(t, w, "bank"); z.Wet || z.ReverseFailed || z.Light != ground.Day || yard.StormToday(w, w.at) || yard.WalkedToday(w, "bank", w.at) != nil {
		t.Errorf("the next day: %+v", z)
	}
}

// TestADayAllowsNoMore: whatever the weather, a walk and a trial say of a zone, no machine
// may more than on the site as it is drawn; least of all on dust, which wet grass does not
// lay.
func TestADayAllowsNoMore(t *testing.T) {
	w := settled(t)
	for _, z := range []yard.DrawFeature{
		{Name: "Yard of dust", Kind: "zone", Along: "200 0\n240 0\n240 40\n200 40", Properties: map[string]any{"surface": "dust", "work": "sweep"}},
		{Name: "Dusk lawn", Kind: "zone", Along: "300 0\n340 0\n340 40\n300 40", Properties: map[string]any{"surface": "fine_turf", "work": "mow", "light": "lit"}},
	} {
		w.must("maren", z)
	}
	for _, id := range []string{"yard_of_dust", "dusk_lawn", "trench"} {
		w.must("ida", yard.MeasureBank{Zone: id, Way: "angle", With: "Gauge", Numbers: map[string]string{"angle": "5"}, Doubts: map[string]string{"angle": "1"}})
	}
	everything := []string{"mow", "sweep", "trench"}
	plain := ground.Slope{Tiers: []ground.Tier{{Limit: 15, NeverAbove: 18}}, Direction: ground.UpDown}
	wet := plain
	wet.Wet, wet.Off = []ground.Tier{{Limit: 9, NeverAbove: 9}}, map[string]float64{ground.Soft: 4}
	with := ground.With{At: w.at, House: ground.Ruled(), People: []ground.Person{{ID: "ida", Machines: []string{"a", "b", "c"}, Practised: []string{"a", "b", "c"}}}, Machines: []ground.Machine{
		{ID: "a", Released: true, Does: everything, Width: 1, Slope: plain},
		{ID: "b", Released: true, Does: everything, Width: 1, Slope: wet, Uses: []string{"fine_turf", "dry_dust", "dusk"}},
		{ID: "c", Released: true, Does: everything, Width: 1, Slope: wet, Uses: []string{"fine_turf"}},
	}}
	allowed := func() map[string]bool {
		t.Helper()
		site, err := yard.SiteToday(w, w.at)
		if err != nil {
			t.Fatal(err)
		}
		judged, err := with.Judge(&site)
		if err != nil {
			t.Fatal(err)
		}
		out := map[string]bool{}
		for _, z := range judged {
			for _, r := range z.Rooms {
				for _, a := range r.Answers {
					out[z.ID+"/"+r.Machine.ID] = a.Allowed && !a.Watch
					out[z.ID+"/"+r.Machine.ID+"/watch"] = a.Allowed
				}
			}
		}
		return out
	}
	drawn, less := allowed(), 0
	for _, grass := range yard.Grasses() {
		for _, light := range yard.Lights() {
			for _, walked := range []string{"", yard.GrassDry, yard.GrassWet} {
				for _, tried := range []string{"", "held", "slipped"} {
					w.weather, w.walked, w.tried = nil, nil, nil
					w.must("maren", yard.SayWeather{Grass: grass, Light: light, Storm: "none"})
					for _, f := range yard.SiteOf(w).Features {
						if f.Kind() != "zone" {
							continue
						}
						if walked != "" {
							w.must("ida", yard.WalkZone{Zone: f.ID(), Grass: walked, Ground: map[string]string{yard.GrassDry: yard.GroundFirm, yard.GrassWet: yard.GroundSoft}[walked]})
						}
						if tried != "" {
							w.must("ida", yard.TryBank{Zone: f.ID(), How: tried})
						}
						for pair, now := range allowed() {
							if now && !drawn[pair] {
								t.Errorf("%s %s, walked %q, %q: %s may, and may not as it is drawn", grass, light, walked, tried, pair)
							}
							if !now && drawn[pair] {
								less++
							}
						}
					}
				}
			}
		}
	}
	if less == 0 {
		t.Error("nothing made anything worse")
	}
}
