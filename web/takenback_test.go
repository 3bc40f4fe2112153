package web_test

import (
	"net/http"
	"strings"
	"testing"

	"vespers/demo"
)

// TestAFaultIsTakenBackThroughThePage: the form asks for why, and for a second
// person with their own PIN where safety hangs on it; the verdict tells it.
func TestAFaultIsTakenBackThroughThePage(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("verger")
	b.post(o+"/ready", "id", "back-ready01", "option[verger.discharge]", "chute", "fit", "yes")
	if status, text := b.post(o+"/answer", "id", "back-found01", "machine", "verger", "check", "seat_belt", "answer", "fault", "fault", "buckle"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	_, page := b.get(o + "/walk?machine=verger&point=seat_belt&change=1")
	for _, want := range []string{"It was no fault", `name="why"`, `name="second"`, `name="pin"`, "Ruth Akindale"} {
		if !strings.Contains(page, want) {
			t.Errorf("the page has no %s", want)
		}
	}
	if strings.Contains(page, `<option value="tobias"`) || strings.Contains(page, `<option value="osk"`) {
		t.Error("the finder or a visitor may see that it is none")
	}
	back := func(id, why, second, pin string) (int, string) {
		return b.post(o+"/answer", "id", id, "machine", "verger", "check", "seat_belt", "answer", "sound", "supersedes", "back-found01", "why", why, "second", second, "pin", pin)
	}
	for name, c := range map[string]struct{ why, second, pin, says string }{
		"no reason":         {"", "ruth", demo.PINs()["ruth"], "Say why"},
		"nobody else":       {"the other belt", "", "", "second person"},
		"a wrong PIN":       {"the other belt", "ruth", "0000", "not the right PIN"},
		"one's own PIN":     {"the other belt", "tobias", demo.PINs()["tobias"], "second person"},
		"a visitor's PIN":   {"the other belt", "osk", demo.PINs()["osk"], "second person"},
		"somebody unknown":  {"the other belt", "ghost", "1234", "not the right PIN"},
		"a very long story": {strings.Repeat("x", 501), "ruth", demo.PINs()["ruth"], "500"},
	} {
		t.Run(name, func(t *testing.T) {
			status, text := back("back-try-"+strings.ToLower(strings.ReplaceAll(strings.ReplaceAll(name, " ", "-"), "'", "")), c.why, c.second, c.pin)
			if status < 400 || !strings.Contains(text, c.says) {
				t.Errorf("%d, no %q", status, c.says)
			}
		})
	}
	if _, page := b.get(o + "/verdict"); !strings.Contains(page, "halt-card") {
		t.Fatal("it was taken back by a word that does not count")
	}
	if status, text := back("back-right01", "the belt of the next one", "ruth", demo.PINs()["ruth"]); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	_, page = b.get(o + "/verdict")
	if strings.Contains(page, "halt-card") || !strings.Contains(page, "Taken back: Seat belt, buckle cracked") || !strings.Contains(page, "Seen by Ruth Akindale") {
		t.Errorf("the verdict: %s", between(page, "<main", "</main>"))
	}
	// A lead sees it among all that were taken back.
	_, page = y.as("maren").get("/patterns")
	for _, want := range []string{"Verger: Seat belt, taken back by Tobias Fennimar", "seen by Ruth Akindale too: the belt of the next one", o + "/verdict"} {
		if !strings.Contains(page, want) {
			t.Errorf("a lead does not see %q: %s", want, between(page, "<main", "</main>"))
		}
	}
}

// TestOptionsOnThePages: a lead says what a machine has, an operator what it
// carries today; the machine's page and its drawing show it.
func TestOptionsOnThePages(t *testing.T) {
	y := wrenfield(t)
	lead, b := y.as("maren"), y.as("tobias")
	if _, page := lead.get("/machines/crozier"); !strings.Contains(page, "Head: <b>Flail head</b>") || !strings.Contains(page, `name="option[crozier.head]"`) {
		t.Error("the page does not say what head it has, or offers no other")
	}
	if _, page := b.get("/machines/crozier"); strings.Contains(page, `name="option[crozier.head]"`) {
		t.Error("an operator is offered another head")
	}
	if status, _ := lead.post("/machines/crozier/options", "id", "option-none1", "option[crozier.head]", "comb"); status != http.StatusUnprocessableEntity {
		t.Error("a head that is none:", status)
	}
	if status, text := lead.post("/machines/crozier/options", "id", "option-right", "option[crozier.head]", "rotary"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	if _, page := b.get("/machines/crozier"); !strings.Contains(page, "Head: <b>Rotary head</b>") {
		t.Error("the head is still the old one")
	}
	o := b.take("crozier", "carrier", "archdeacon")
	_, page := b.get(o + "/ready")
	if !strings.Contains(page, "Crozier: Counterweight today") || strings.Contains(page, "Head</legend>") {
		t.Error("the operator is not asked about the counterweight, or about the head")
	}
	if status, text := b.post(o+"/ready", "id", "option-ready", "fit", "yes", "company", "maren"); status < 400 || !strings.Contains(text, "Counterweight") {
		t.Error("an option nobody told:", status)
	}
	if status, text := b.post(o+"/ready", "id", "option-ready", "fit", "yes", "company", "maren", "option[crozier.counterweight]", "off"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	if status, _ := b.get(o + "/walk?machine=crozier&point=head_blades"); status != http.StatusOK {
		t.Error("the rotary head is not looked at:", status)
	}
	if status, _ := b.get(o + "/walk?machine=crozier&point=flails"); status != http.StatusNotFound {
		t.Error("the flails are still looked at:", status)
	}
}

// TestTheFirstReadingWasASlip: where safety hangs on it the second counts only by
// the word of a second person, with their PIN.
func TestTheFirstReadingWasASlip(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("verger")
	b.post(o+"/ready", "id", "slip-ready01", "option[verger.discharge]", "chute", "fit", "yes")
	measure := func(id, typed string, more ...string) (int, string) {
		return b.post(o+"/answer", append([]string{"id", id, "machine", "verger", "check", "wheel_right_rear", "item", "pressure", "answer", "reading", "unit", "kPa", "typed", typed}, more...)...)
	}
	if status, text := measure("slip-first01", "9"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	point := o + "/walk?machine=verger&point=wheel_right_rear&item=pressure"
	if _, page := b.get(point); !strings.Contains(page, "The first was a slip") || strings.Contains(page, `<option value="tobias"`) {
		t.Error("it cannot be said, or by the operator alone")
	}
	again := []string{"again", "1", "supersedes", "slip-first01"}
	if status, _ := measure("slip-wrong01", "94", append(again, "second", "ruth", "pin", "0000")...); status != http.StatusUnprocessableEntity {
		t.Error("a wrong PIN:", status)
	}
	if status, text := measure("slip-right01", "94", append(again, "second", "ruth", "pin", demo.PINs()["ruth"])...); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	if _, page := b.get(point); strings.Contains(page, "the worse counts") || !strings.Contains(page, "the first time it was 9") {
		t.Errorf("%s", between(page, `class="given"`, "</section>"))
	}
}
