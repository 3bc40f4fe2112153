package web_test

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"vespers/core/text"
	"vespers/core/unit"
	crew "vespers/core/yard"
	"vespers/say"
	"vespers/store"
)

// TestTheGroundWithoutTheScript: what is refused is shown again with what was typed, the
// script is told the same in its own way, and a number that may be both is asked about.
func TestTheGroundWithoutTheScript(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	measure := "/ground/zones/gate_verge/measure"
	reading := func(id, angle string, more ...string) []string {
		return append([]string{"id", id, "way", "angle", "angle", angle, "u_angle", "1", "with", "Gauge"}, more...)
	}
	if status, page := b.post(measure, reading("ground-1", "steep")...); status != http.StatusConflict || !strings.Contains(page, `value="steep"`) {
		t.Errorf("no number: %d, or what was typed is gone", status)
	}
	if status, page := b.post(measure, reading("ground-2", "17")...); status != http.StatusConflict || !strings.Contains(page, `name="sure" value="percent"`) {
		t.Errorf("17 may be both, and nobody asks: %d", status)
	}
	b.accept = "application/json"
	// A script is asked as well, and says it in two answers; what the device read is no percent.
	if status, told := b.post(measure, reading("ground-s", "17")...); status != http.StatusConflict || strings.Count(told, `"name":"sure"`) != 2 {
		t.Errorf("17, by a script: %d %s", status, told)
	}
	if status, told := b.post(measure, reading("ground-d", "17", "read", "17")...); status != http.StatusOK {
		t.Errorf("17, read by the device: %d %s", status, told)
	}
	if status, told := b.post(measure, reading("ground-e", "18", "read", "17")...); status != http.StatusConflict {
		t.Errorf("17, read by the device and changed: %d %s", status, told)
	}
	b.accept = ""
	if status, _ := b.post(measure, reading("ground-3", "17", "sure", "angle")...); status != http.StatusSeeOther {
		t.Errorf("17 degrees, for sure: %d", status)
	}
	_, page := b.get("/ground/zones/gate_verge")
	if !strings.Contains(page, "17° ± 1") {
		t.Error("the reading is not there")
	}
	if status, page := b.post("/ground/zones/gate_verge/walk", "id", "ground-5", "grass", "wet", "told", "Wire by the gate"); status != http.StatusConflict || !strings.Contains(page, "how the grass is") || !strings.Contains(page, "Wire by the gate") {
		t.Errorf("half a walk: %d", status)
	}
	for _, path := range []string{"/ground/zones/moon", "/ground/zones/"} {
		if status, _ := b.get(path); status != http.StatusNotFound {
			t.Errorf("%s: %d", path, status)
		}
	}
	if status, _ := b.post("/ground/zones/moon/try", "id", "ground-6", "how", "held"); status != http.StatusNotFound && status != http.StatusConflict {
		t.Errorf("a zone that is none: %d", status)
	}
	b.accept = "application/json"
	if status, body := b.post(measure, reading("ground-7", "steep")...); status == http.StatusOK || !strings.Contains(body, `"error":`) {
		t.Errorf("told to the script: %d %s", status, body)
	}
	for zone, stands := range map[string]bool{"upper_terrace": true, "lower_terrace": false} {
		if _, page := y.as("edda").get("/ground/zones/" + zone); strings.Contains(page, "Stump of the old oak, a stump") != stands {
			t.Errorf("the stump in %s: %t", zone, !stands)
		}
	}
	// A visitor looks, and is offered nothing to say.
	_, page = y.as("osk").get("/ground/zones/gate_verge")
	if strings.Contains(page, "/measure") || strings.Contains(page, "/walk") || !strings.Contains(page, "17° ± 1") {
		t.Error("a visitor is asked to measure, or does not see what was measured")
	}
}

// TestAWalkWithAPicture: kept with the zone for the day; a file that is none is refused
// and keeps what was ticked.
func TestAWalkWithAPicture(t *testing.T) {
	y := wrenfield(t)
	b := y.as("ines")
	fields := []string{"item", "loose", "grass", "dry", "ground", "firm", "told", "Alambre"}
	if status, told := b.upload("/ground/zones/pond_bank/walk", []byte("no picture"), append(fields, "id", "walk-form-0")...); status != http.StatusConflict || !strings.HasPrefix(told, `{"detail":`) {
		t.Errorf("no picture, by a script: %d %s", status, told)
	}
	if status, page := b.sendAs("text/html", "/ground/zones/pond_bank/walk", "photo", []byte("no picture"), append(fields, "id", "walk-form-1")...); status != http.StatusConflict || strings.Count(page, " checked>") != 3 || !strings.Contains(page, "Alambre") {
		t.Errorf("no picture: %d", status)
	}
	var small bytes.Buffer
	if err := png.Encode(&small, image.NewGray(image.Rect(0, 0, 40, 30))); err != nil {
		t.Fatal(err)
	}
	if status, body := b.upload("/ground/zones/pond_bank/walk", small.Bytes(), append(fields, "id", "walk-form-2")...); status != http.StatusOK {
		t.Errorf("a picture: %d %s", status, body)
	}
	_, page := b.get("/ground/zones/pond_bank")
	if !strings.Contains(page, `src="/photos/`) || !strings.Contains(page, "Alambre") {
		t.Error("the picture, or what was told, is not there")
	}
}

// TestAnEmptyGround says what to do, and plans nothing.
func TestAnEmptyGround(t *testing.T) {
	y := wrenfield(t)
	view, _ := y.store.View(t.Context())
	for i, f := range crew.SiteOf(view).Features {
		if _, err := y.store.Do(t.Context(), store.Entry{ID: "empty-" + string(rune('a'+i)), Person: "maren"}, crew.DropFeature{ID: f.ID()}); err != nil {
			t.Fatal(err)
		}
	}
	b := y.as("maren")
	for _, path := range []string{"/ground", "/ground/morning", "/ground/draw", "/ground/morning?propose=yes&zone=moon"} {
		status, page := b.get(path)
		if status != http.StatusOK || strings.Contains(page, "NaN") || strings.Contains(page, "Inf") {
			t.Errorf("%s: %d", path, status)
		}
	}
	if status, _ := b.post("/ground/morning", "id", "empty-plan", "until", "16:00", "turn_zone", "moon", "turn_pair", "ines/verger", "turn_place", "1"); status != http.StatusConflict {
		t.Errorf("a plan of a zone that is none: %d", status)
	}
}

// TestAFileOfOthers: zones called what somebody else's program calls them, and a file far
// larger than a form; what is larger than a site is refused in words.
func TestAFileOfOthers(t *testing.T) {
	y := wrenfield(t)
	b := y.as("maren")
	b.upload("/ground/import", nil, "id", "others-0") // no file: refused, and nothing is lost
	far := `{"type":"FeatureCollection","vespers":{"coordinates":"local","u":1},"note":"` + strings.Repeat("x", 200_000) + `","features":[
{"type":"Feature","id":"way/12?a=b#c ñ","geometry":{"type":"Polygon","coordinates":[[[0,0],[40,0],[40,30],[0,0]]]},"properties":{"kind":"zone","name":"<b>Lawn</b>","surface":"rough","work":"mow","readings":[]}}]}`
	if status, body := b.send("/ground/import", "file", []byte(far), "id", "others-form-1", "over", "yes"); status != http.StatusOK {
		t.Fatalf("%d %s", status, body)
	}
	_, page := b.get("/ground")
	at := regexp.MustCompile(`href="(/ground/zones/[^"]+)"`).FindStringSubmatch(page)
	if at == nil || strings.Contains(page, "<b>Lawn</b>") {
		t.Fatal("the zone has no address, or its name is markup")
	}
	if status, page := b.get(at[1]); status != http.StatusOK || !strings.Contains(page, "600 m²") {
		t.Errorf("%s: %d", at[1], status)
	}
	if status, _ := b.post(at[1]+"/try", "id", "others-form-2", "how", "slipped"); status != http.StatusSeeOther {
		t.Errorf("tried: %d", status)
	}
	large := strings.Replace(far, `"note":"`, `"note":"`+strings.Repeat("y", 2<<20), 1)
	if status, body := b.send("/ground/import", "file", []byte(large), "id", "others-form-3", "over", "yes"); status == http.StatusOK || !strings.Contains(body, "Nothing was changed") {
		t.Errorf("two megabytes: %d %s", status, body)
	}
}

// TestAProposalThatCannotBe says why: no zone, no time of day, one that is over.
func TestAProposalThatCannotBe(t *testing.T) {
	y := wrenfield(t)
	b := y.as("maren")
	for path, want := range map[string]string{
		"/ground/morning?propose=yes&until=03:59":                   "Choose at least one zone",
		"/ground/morning?propose=yes&zone=chapel_lawn&until=late":   "a time of day that is still to come",
		"/ground/morning?propose=yes&zone=chapel_lawn&until=04:00":  "a time of day that is still to come",
		"/ground/morning?propose=yes&zone=no_such_zone&until=03:59": "no such zone",
	} {
		if status, page := b.get(path); status != http.StatusOK || !strings.Contains(page, want) {
			t.Errorf("%s: %d, without %q", path, status, want)
		}
	}
	if _, page := y.as("ines").get("/ground/morning?propose=yes&zone=chapel_lawn&until=03:59"); strings.Contains(page, `name="turn_pair"`) {
		t.Error("an operator is shown a proposal")
	}
}

// TestWhatMendsALoadDoes: who types what the sheet says would do, as it says it, in pounds
// and feet as in kilograms and metres, is not refused again.
func TestWhatMendsALoadDoes(t *testing.T) {
	y := wrenfield(t)
	view, _ := y.store.View(t.Context())
	for who, machine := range map[string]string{"tobias": "cantor", "ines": "almoner"} {
		m, _ := view.Machine(machine)
		b, at := y.as(who), "/outings/"+m.Outing+"/load"
		units := map[string]string{"tobias": "ft", "ines": "m"}[who]
		typed := map[string]string{"ramp_height": "0.61 m", "ramp_height_u": "0.013 m", "ramp_length": "1.7 m", "ramp_length_u": "0.013 m", "ramp_width": "1.1 m", "ramp_width_u": "0.013 m",
			"load_height": "3.97 m", "load_height_u": "0.037 m", "bridges": "4.02 m; 4.6 m", "legal": "4 m",
			"trailer": "357 kg", "gross": "2100 kg", "rating": "2100 kg", "tongue": "20 kg", "tongue_u": "3 kg"}
		n := 0
		post := func() string {
			t.Helper()
			n++
			pairs := []string{"id", fmt.Sprintf("mend-%s-%d", who, n)}
			for name, value := range typed {
				pairs = append(pairs, name, value)
			}
			if status, _ := b.post(at, pairs...); status != http.StatusSeeOther {
				t.Fatalf("%s: %d", who, status)
			}
			_, page := b.get(at)
			return page
		}
		number := `([0-9.,]+)`
		find := func(page, pattern string) []string {
			t.Helper()
			found := regexp.MustCompile(pattern).FindStringSubmatch(page)
			if found == nil {
				t.Fatalf("%s: nothing says %s: %v", who, pattern, regexp.MustCompile(`<p class="instead">[^<]*`).FindAllString(page, -1))
			}
			return found
		}
		page := post()
		words := map[string][4]string{
			"tobias": {"A ramp of " + number + " ft", "in one piece, " + number + " ft", "to be " + number + " ft lower", "presses with " + number + " lb to " + number + " lb"},
			"ines":   {"una rampa de " + number + " m", "una pieza, de " + number + " m", "quedar " + number + " m más baja", "apoye de " + number + " kg a " + number + " kg"},
		}[who]
		typed["ramp_length"], typed["ramp_width"] = find(page, words[0])[1], find(page, words[1])[1]
		less, _ := strconv.ParseFloat(find(page, words[2])[1], 64)
		metre := map[string]float64{"ft": 0.3048, "m": 1}[units]
		typed["load_height"] = fmt.Sprintf("%.6f m", 3.97-less*metre)
		press := find(page, words[3])
		for _, tongue := range press[1:] {
			typed["tongue"] = tongue
			if page = post(); strings.Contains(page, "load-part not") {
				t.Errorf("%s did as told, and is refused: %v\n%s", who, typed, regexp.MustCompile(`<p class="instead">[^<]*`).FindAllString(page, -1))
			}
		}
	}
}

// TestEveryReasonIsTold in a sentence, in both languages.
func TestEveryReasonIsTold(t *testing.T) {
	for _, lang := range []text.Language{text.English, text.Spanish} {
		v := say.NewVoice(lang, unit.Metric, nil)
		for _, because := range []string{"not_released", "not_qualified", "work", "slope_unknown", "slope", "slope_as", "reverse_test", "use_fine_turf", "use_dry_dust", "use_dusk",
			"use_under_trees", "use_near_public", "ticket", "nothing_left", crew.NoNumbers, crew.Theirs, crew.HasOther} {
			if !v.Has("ground.why." + because) {
				t.Errorf("%s: no words for %s", lang, because)
			}
		}
		for _, because := range []string{"may", "twice", "machine", "taken", "late", "gone"} {
			if !v.Has("morning.break." + because) {
				t.Errorf("%s: no words for %s", lang, because)
			}
		}
	}
}
