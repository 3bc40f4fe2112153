package ground

import (
	"bytes"
	"encoding/json"
	"math"
	"strings"
	"testing"

	"vespers/core/plane"
)

// kept is a site as somebody else's program writes it: words in another order, numbers with
// noughts, members that mean nothing here.
const kept = `{"features": [
 {"id": "lawn", "type": "Feature", "bbox": [0, 0, 1, 1], "properties": {"work": "mow", "surface": "fine_turf", "kind": "zone", "gärtner": "<Ä & Ö>", "readings": []},
  "geometry": {"coordinates": [[[0, 0], [10.50, 0], [10, 1e1], [0, 0]]], "type": "Polygon"}},
 {"id": "wall", "type": "Feature", "geometry": {"type": "LineString", "coordinates": [[0, -1], [10, -1, 4.20]]}, "properties": {"kind": "edge", "edge": "wall"}}
], "vespers": {"u": 0.40, "coordinates": "local"}, "type": "FeatureCollection", "made": {"by": "hand", "at": null}}`

// TestAFileComesBackAsItWas: what is written reads as what was read, and is written the
// same ever after; nothing in it is lost.
func TestAFileComesBackAsItWas(t *testing.T) {
	for name, file := range map[string]string{"local": kept, "on the globe": strings.Replace(kept, `"vespers": {"u": 0.40, "coordinates": "local"}, `, "", 1)} {
		f, err := ReadFile([]byte(file))
		if err != nil {
			t.Fatal(name, err)
		}
		once := f.Bytes()
		g, err := ReadFile(once)
		if err != nil {
			t.Fatal(name, err)
		}
		if twice := g.Bytes(); !bytes.Equal(once, twice) {
			t.Errorf("%s: another file the second time:\n%s\n%s", name, once, twice)
		}
		for _, word := range []string{`"gärtner":"<Ä & Ö>"`, `10.50`, `1e1`, `4.20`, `"bbox":[0,0,1,1]`, `"made":{"at":null,"by":"hand"}`} {
			if !strings.Contains(string(once), word) {
				t.Errorf("%s: %s is lost: %s", name, word, once)
			}
		}
		was, _ := ReadSite([]byte(file))
		is, err := f.Site()
		if err != nil || len(is.Zones) != 1 || len(is.Edges) != 1 || math.Abs(was.Zones[0].Shape.Area()-is.Zones[0].Shape.Area()) > 1e-6 || was.Doubt != is.Doubt {
			t.Errorf("%s: %+v, was %+v", name, is, was)
		}
	}
}

// TestAnEditMovesNothingElse: on the globe too, when the first feature of all goes, whose
// first place everything was measured from.
func TestAnEditMovesNothingElse(t *testing.T) {
	f, err := ReadFile([]byte(`{"type": "FeatureCollection", "features": [
 {"type": "Feature", "id": "first", "geometry": {"type": "Point", "coordinates": [-3.1, 52.2]}, "properties": {"kind": "thing", "thing": "gate"}},
 {"type": "Feature", "id": "second", "geometry": {"type": "Point", "coordinates": [-3.099, 52.201]}, "properties": {"kind": "thing", "thing": "gate"}}]}`))
	if err != nil {
		t.Fatal(err)
	}
	at := func(f File, id string) plane.Point {
		site, err := f.Site()
		if err != nil {
			t.Fatal(err)
		}
		for _, thing := range site.Things {
			if thing.ID == id {
				return thing.Shape.Middle()
			}
		}
		t.Fatalf("no %s", id)
		return plane.Point{}
	}
	before := at(f, "second")
	less, err := f.Without("first")
	if err != nil {
		t.Fatal(err)
	}
	if after := at(less, "second"); before.Distance(after) > 1e-9 {
		t.Errorf("moved from %v to %v", before, after)
	}
	// What is drawn in metres is where it was drawn, on the globe too.
	more, err := less.With(less.Draw("third", "Point", []plane.Point{{X: 123.45, Y: -67.89}}, map[string]any{"kind": "thing", "thing": "stump"}))
	if err != nil {
		t.Fatal(err)
	}
	if third := at(more, "third"); third.Distance(plane.Point{X: 123.45, Y: -67.89}) > 0.001 {
		t.Errorf("drawn at %v", third)
	}
	if len(f.Features) != 2 || len(less.Features) != 1 {
		t.Error("an edit changed the file that it was made from")
	}
	for _, id := range []string{"nobody", ""} {
		if _, err := f.Without(id); err == nil {
			t.Errorf("%q went without being there", id)
		}
	}
	if _, err := f.With(f.Draw("zone", "Polygon", []plane.Point{{}, {X: 1}}, map[string]any{"kind": "zone", "surface": "rough", "work": "mow"})); err == nil {
		t.Error("a zone of no area")
	}
}

// TestReadingsStandWithWhoTookThem: each beside what it was measured with, one taken back
// takes its own along.
func TestReadingsStandWithWhoTookThem(t *testing.T) {
	zone := Feature{"id": "bank", "properties": map[string]any{"kind": "zone", "readings": []any{map[string]any{"kind": "angle"}}}}
	for _, with := range []string{"gauge", "tablet"} {
		zone = zone.Measured(map[string]any{"kind": "percent", "percent": json.Number("9")}, map[string]any{"with": with, "by": "ines", "at": "2026-03-12T06:40:00Z"})
	}
	want := []Said{{}, {"gauge", "ines", "2026-03-12T06:40:00Z"}, {"tablet", "ines", "2026-03-12T06:40:00Z"}}
	got := zone.Said()
	if len(got) != 3 || got[0] != want[0] || got[1] != want[1] || got[2] != want[2] {
		t.Errorf("%+v", got)
	}
	less, ok := zone.Unmeasured(1)
	if got := less.Said(); !ok || len(got) != 2 || got[1].With != "tablet" || len(zone.Said()) != 3 {
		t.Errorf("%+v", got)
	}
	for _, n := range []int{-1, 3} {
		if _, ok := zone.Unmeasured(n); ok {
			t.Errorf("reading %d went", n)
		}
	}
	// What somebody else wrote there and fits no reading says nothing.
	less.Properties()["measured"] = []any{map[string]any{"with": "eye"}}
	if got := less.Said(); len(got) != 2 || got[0] != (Said{}) {
		t.Errorf("%+v", got)
	}
}

// TestANumberThatMayBeBoth: 15 may be degrees or per cent; 2, 80 and a drop may not, and a
// bank that was measured already tells.
func TestANumberThatMayBeBoth(t *testing.T) {
	steep, gentle := Reading{Kind: ByAngle, Up: Measured{Value: 15}}, Reading{Kind: ByPercent, Up: Measured{Value: 15}}
	for _, c := range []struct {
		name   string
		way    string
		typed  float64
		others []Reading
		want   bool
	}{
		{"fifteen degrees", ByAngle, 15, nil, true},
		{"fifteen per cent", ByPercent, 15, nil, true},
		{"the least", ByAngle, 3, nil, true},
		{"less", ByAngle, 2.9, nil, false},
		{"the most", ByPercent, 45, nil, true},
		{"more", ByPercent, 46, nil, false},
		{"a drop", ByDrop, 15, nil, false},
		{"a bank of fifteen degrees", ByAngle, 15, []Reading{steep}, false},
		{"a bank of fifteen per cent", ByAngle, 15, []Reading{gentle}, true},
		{"per cent on it", ByPercent, 15, []Reading{gentle}, false},
		{"both were measured", ByAngle, 15, []Reading{steep, gentle}, true},
		{"small ones fit both ways", ByAngle, 4, []Reading{{Kind: ByAngle, Up: Measured{Value: 3}}}, true},
		{"within three degrees of it", ByAngle, 17.9, []Reading{steep}, false},
		{"more than three off", ByAngle, 18.1, []Reading{steep}, true},
		{"a bank like nothing typed", ByAngle, 15, []Reading{{Kind: ByAngle, Up: Measured{Value: 30}}}, true},
	} {
		if got := TwoWays(c.way, c.typed, c.others); got != c.want {
			t.Errorf("%s: %t", c.name, got)
		}
	}
}
