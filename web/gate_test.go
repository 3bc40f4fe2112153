package web_test

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"io"
	"mime/multipart"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"vespers/demo"
)

// take takes a machine out and gives the path of its outing.
func (b *browser) take(machine string, more ...string) string {
	b.y.Helper()
	status, text := b.post("/machines/"+machine+"/outing", append([]string{"id", "take-" + machine + "-001", "both", "yes"}, more...)...)
	if status != http.StatusSeeOther {
		b.y.Fatalf("taking out %s: %d %s", machine, status, text)
	}
	return "/outings/o-take-" + machine + "-001"
}

func TestTheGateAsksForWhatTheMachineAsks(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("apparitor")
	_, page := b.get(o + "/ready")
	for _, want := range []string{"Loose chaps", "Climbing harness", `name="company"`, "As last time", "Tear-away hi-vis", "Maren Oduvale"} {
		if !strings.Contains(page, want) {
			t.Errorf("the gate does not say %q", want)
		}
	}
	if strings.Contains(page, ">Tobias Fennimar</option>") {
		t.Error("one can be one's own company")
	}
	if status, _ := b.post(o+"/ready", "id", "gate-ready-1", "option[apparitor.stands]", "coupled", "fit", "yes", "company", "tobias"); status != http.StatusUnprocessableEntity {
		t.Error("one can be one's own company:", status)
	}
	if status, _ := b.post(o+"/ready", "id", "gate-ready-x", "option[apparitor.stands]", "coupled", "fit", "yes", "worn", "helmet"); status != http.StatusUnprocessableEntity {
		t.Error("something is on that the page did not ask:", status)
	}
	same := []string{"same", "on"}
	for _, id := range regexp.MustCompile(`name="same_item" value="(\w+)"`).FindAllStringSubmatch(page, -1) {
		same = append(same, "same_item", id[1])
	}
	for _, id := range regexp.MustCompile(`name="shown" value="(\w+)"`).FindAllStringSubmatch(page, -1) {
		same = append(same, "shown", id[1])
	}
	if status, _ := b.post(o+"/ready", append(same, "id", "gate-ready-1", "option[apparitor.stands]", "coupled", "fit", "yes", "worn", "helmet")...); status != http.StatusSeeOther {
		t.Fatal("not taken:", status)
	}
	_, page = b.get(o + "/ready")
	for _, want := range []string{"Who is with you?", "Not to be worn here", "gloves", "hi-vis"} {
		if !strings.Contains(page, want) {
			t.Errorf("what is missing does not say %q", want)
		}
	}
	if strings.Contains(page, "Still to put on: eye") {
		t.Error("what was on last time, and is again, was not taken")
	}
	if !regexp.MustCompile(`name="same" checked`).MatchString(page) {
		t.Error("what was confirmed as last time has to be confirmed again")
	}
	b.post(o+"/ready", append(same, "id", "gate-ready-2", "option[apparitor.stands]", "coupled", "fit", "yes", "worn", "helmet", "worn", "gloves", "worn", "tear_away", "clear_of", "chaps", "clear_of", "harness", "clear_of", "gauntlets", "company", "maren")...)
	if _, page = b.get(o + "/ready"); strings.Contains(page, `class="missing"`) {
		t.Errorf("still missing: %s", between(page, `class="missing"`, "</section>"))
	}
}

func between(s, from, to string) string {
	_, s, _ = strings.Cut(s, from)
	s, _, _ = strings.Cut(s, to)
	return s
}

func TestExposureIsShownBeforeItIsUsedUp(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("lector")
	if _, page := b.get(o + "/ready"); !regexp.MustCompile(`[01] % of the daily`).MatchString(page) || !regexp.MustCompile(`\d h \d\d min`).MatchString(page) {
		t.Error("the saw does not say how long hands may hold it")
	}
	o = b.take("verger")
	if _, page := b.get(o + "/ready"); strings.Contains(page, "of the daily") {
		t.Error("a rider that hardly shakes speaks of vibration")
	}
}

func TestLeadsWriteDownWhatWasShown(t *testing.T) {
	y := wrenfield(t)
	lead := y.as("maren")
	_, page := lead.get("/people")
	sheet := regexp.MustCompile(`<option value="([0-9a-f]{32})">Lychgate 120 sweeper</option>`).FindStringSubmatch(page)
	if sheet == nil {
		t.Fatal("no sheet to choose")
	}
	for name, form := range map[string][]string{
		"an unknown kind":   {"id", "qualify-bad1", "kind", "juggling", "sheet", sheet[1]},
		"no sheet":          {"id", "qualify-bad2", "kind", "practice"},
		"a date that is no": {"id", "qualify-bad3", "kind", "licence", "until", "soon"},
		"a date gone by":    {"id", "qualify-bad4", "kind", "licence", "until", "2001-01-01"},
	} {
		t.Run(name, func(t *testing.T) {
			if status, text := lead.post("/people/lucia/qualification", form...); status != http.StatusUnprocessableEntity || !strings.Contains(text, `role="alert"`) {
				t.Errorf("%s: %d", name, status)
			}
		})
	}
	for _, born := range []string{"", "yesterday", "2031-01-01", "1850-01-01"} {
		if status, _ := lead.post("/people/lucia/born", "id", "born-bad-001", "born", born); status != http.StatusUnprocessableEntity {
			t.Errorf("born %q: %d", born, status)
		}
	}
	if status, _ := lead.post("/people/lucia/qualification", "id", "qualify-good", "kind", "practice", "sheet", sheet[1]); status != http.StatusSeeOther {
		t.Error("not written down:", status)
	}
	if _, page = lead.get("/people"); !strings.Contains(page, "Lychgate 120 sweeper: practice, seen by Maren Oduvale") || !strings.Contains(page, "Runs out soon") {
		t.Error("what was shown, or what runs out, is not on the page")
	}
	if status, _ := lead.post("/people/nobody/born", "id", "born-nobody1", "born", "1990-01-01"); status != http.StatusNotFound {
		t.Errorf("somebody who is not there: %d", status)
	}
}

func TestATraineeCannotReleaseAlone(t *testing.T) {
	y := wrenfield(t)
	b := y.as("jonah")
	o := b.take("verger")
	for _, form := range [][]string{
		{"id", "alone-000001"},
		{"id", "alone-000002", "second", "osk", "pin", demo.PINs()["osk"]},       // a visitor may not either
		{"id", "alone-000003", "second", "jonah", "pin", demo.PINs()["jonah"]},   // nor the trainee
		{"id", "alone-000004", "second", "tobias", "pin", "0000"},                // a wrong PIN
		{"id", "alone-000005", "second", "tobias", "pin", demo.PINs()["tobias"]}, // right, but nothing is done yet
	} {
		if status, _ := b.post(o+"/release", form...); status < 400 || status > 499 {
			t.Errorf("%v: %d", form, status)
		}
	}
	out, err := y.store.Outing(context.Background(), strings.TrimPrefix(o, "/outings/"))
	if err != nil || out.Status != "open" {
		t.Errorf("it is %s, %v", out.Status, err)
	}
}

// upload sends a picture of a finding.
func (b *browser) upload(path string, picture []byte, pairs ...string) (int, string) {
	b.y.Helper()
	return b.send(path, "photo", picture, pairs...)
}

// send sends a file in a field, as a page's script does.
func (b *browser) send(path, field string, picture []byte, pairs ...string) (int, string) {
	b.y.Helper()
	return b.sendAs("application/json", path, field, picture, pairs...)
}

// sendAs sends a file in a field, for an answer of a kind: a page without its scripts asks
// for another page.
func (b *browser) sendAs(kind, path, field string, picture []byte, pairs ...string) (int, string) {
	b.y.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	for i := 0; i < len(pairs); i += 2 {
		w.WriteField(pairs[i], pairs[i+1])
	}
	if picture != nil {
		part, err := w.CreateFormFile(field, "../../etc/photo.png")
		if err != nil {
			b.y.Fatal(err)
		}
		part.Write(picture)
	}
	w.Close()
	r, err := http.NewRequest("POST", b.y.server.URL+path, &body)
	if err != nil {
		b.y.Fatal(err)
	}
	r.Header.Set("Content-Type", w.FormDataContentType())
	r.Header.Set("Accept", kind)
	response, err := b.client.Do(r)
	if err != nil {
		b.y.Fatal(err)
	}
	defer response.Body.Close()
	text, err := io.ReadAll(response.Body)
	if err != nil {
		b.y.Fatal(err)
	}
	return response.StatusCode, string(text)
}

func TestPhotosOfFindings(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("verger")
	b.post(o+"/ready", "id", "photo-ready1", "option[verger.discharge]", "chute", "fit", "yes")
	b.accept = "application/json"
	if status, text := b.post(o+"/answer", "id", "photo-found1", "machine", "verger", "check", "castors", "answer", "fault", "fault", "grease"); status != http.StatusOK {
		t.Fatal(status, text)
	}
	b.accept = ""
	var picture bytes.Buffer
	if err := png.Encode(&picture, image.NewGray(image.Rect(0, 0, 900, 500))); err != nil {
		t.Fatal(err)
	}
	about := func(id string) []string {
		return []string{"id", id, "machine", "verger", "check", "castors", "finding", "photo-found1"}
	}
	if status, text := b.upload(o+"/photo", []byte("<svg onload=alert(1)>"), about("photo-bad-001")...); status != http.StatusUnprocessableEntity || !strings.Contains(text, "JPEG") {
		t.Errorf("no picture: %d %s", status, text)
	}
	if status, _ := b.upload(o+"/photo", bytes.Repeat([]byte("x"), 13<<20), about("photo-bad-002")...); status != http.StatusRequestEntityTooLarge {
		t.Errorf("too large: %d", status)
	}
	if status, _ := b.upload(o+"/photo", nil, about("photo-bad-003")...); status != http.StatusUnprocessableEntity {
		t.Errorf("neither picture nor note: %d", status)
	}
	for range 2 { // sent again with the same id, it is kept once
		if status, text := b.upload(o+"/photo", picture.Bytes(), about("photo-good-01")...); status != http.StatusOK {
			t.Fatalf("%d %s", status, text)
		}
	}
	_, page := b.get(o + "/walk?machine=verger&point=castors")
	shown := regexp.MustCompile(`<img src="(/photos/[0-9a-f]{32})"`).FindAllStringSubmatch(page, -1)
	if len(shown) != 1 {
		t.Fatalf("%d pictures on the page", len(shown))
	}
	response, body := b.do("GET", shown[0][1], nil)
	if response.StatusCode != http.StatusOK || response.Header.Get("Content-Type") != "image/jpeg" || !strings.HasPrefix(body, "\xff\xd8") {
		t.Errorf("%d %s", response.StatusCode, response.Header.Get("Content-Type"))
	}
	if response, _ := y.browser().do("GET", shown[0][1], nil); response.StatusCode != http.StatusSeeOther {
		t.Errorf("without signing in: %d", response.StatusCode)
	}
}

func TestTheLabelOpensTheMachine(t *testing.T) {
	y := wrenfield(t)
	b := y.as("osk")
	status, page := b.get("/machines/lector/label")
	if status != http.StatusOK || !strings.Contains(page, y.server.URL+"/machines/lector") || !strings.Contains(page, `class="code"`) {
		t.Errorf("%d", status)
	}
	if status, _ := b.get("/machines/moon/label"); status != http.StatusNotFound {
		t.Errorf("a machine that is not there: %d", status)
	}
}

func TestWalkingFromWhereOneStands(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("chorister")
	b.post(o+"/ready", "id", "stand-ready1", "option[verger.discharge]", "chute", "fit", "yes")
	if status, _ := b.post(o+"/from", "id", "stand-right1", "machine", "chorister", "from", "right_front"); status != http.StatusSeeOther {
		t.Fatal("not replanned:", status)
	}
	if _, page := b.get(o + "/walk"); !strings.Contains(page, ">Side broom") {
		t.Errorf("begins with %s", between(page, "<h1", "</h1>"))
	}
	for i, bad := range [][2]string{{"chorister", "moon"}, {"chorister", ""}, {"verger", "front"}} {
		form := []string{"id", "stand-bad-00" + string(rune('0'+i)), "machine", bad[0], "from", bad[1]}
		if status, _ := b.post(o+"/from", form...); status < 400 || status > 499 {
			t.Errorf("%v: %d", bad, status)
		}
	}
}

func TestTheConditionOfTheDayIsAskedFirst(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("gravedigger")
	b.post(o+"/ready", "id", "soil-ready01", "fit", "yes", "check_in", "03:59")
	point := o + "/walk?machine=gravedigger&point=chain_slack"
	if _, page := b.get(point); !strings.Contains(page, "How wet is the soil today?") || !strings.Contains(page, `value="wet"`) {
		t.Error("it does not ask how wet the soil is")
	}
	if status, _ := b.post(o+"/tell", "id", "soil-bad-001", "machine", "gravedigger", "condition", "soil_wetness", "choice", "frozen"); status != http.StatusUnprocessableEntity {
		t.Errorf("an answer that does not fit: %d", status)
	}
	if status, _ := b.post(o+"/tell", "id", "soil-wet-001", "machine", "gravedigger", "condition", "soil_wetness", "choice", "wet"); status != http.StatusSeeOther {
		t.Errorf("not taken: %d", status)
	}
	if _, page := b.get(point); strings.Contains(page, "How wet is the soil today?") {
		t.Error("it asks twice")
	}
	out, err := y.store.Outing(context.Background(), strings.TrimPrefix(o, "/outings/"))
	if err != nil {
		t.Fatal(err)
	}
	// The slack that the limits allow follows the soil.
	u := out.Units[0]
	slack, _ := u.Check("chain_slack").Reading("slack")
	if wet, dry := *u.Under(slack).Limits.High, *slack.Under(nil).Limits.High; wet == dry {
		t.Errorf("wet soil changes nothing: %v", wet)
	}
}
