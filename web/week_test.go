package web_test

import (
	"net/http"
	"strings"
	"testing"
	"time"
)

// TestTheWeek: what was found and what stopped, how long mornings took, who runs out of
// what; an earlier week is another one.
func TestTheWeek(t *testing.T) {
	y := wrenfield(t)
	lead := y.as("maren")
	status, page := lead.get("/week")
	if status != http.StatusOK {
		t.Fatal(status)
	}
	part := func(title string) string { return between(page, "<h2>"+title+"</h2>", "</section>") }
	for title, wants := range map[string][]string{
		"What was found, and what stopped": {"Beadle", "Precentor", `class="marked"`},
		"Found by the next look":           {"Precentor"},
		"The minutes of the morning":       {"Cantor", " min</td>"},
		"Fuel":                             {"Nothing in this week."},
		"Who runs out of what":             {"Tobias Fennimar: practice, Tarnwood 190 chipper"},
	} {
		for _, want := range wants {
			if !strings.Contains(part(title), want) {
				t.Errorf("%s says nothing of %q: %s", title, want, part(title))
			}
		}
	}
	if strings.Contains(page, "The week after") {
		t.Error("there is a week after this one")
	}
	_, before := lead.get("/week?on=" + time.Now().AddDate(0, 0, -40).Format(time.DateOnly))
	if !strings.Contains(before, "The week after") || strings.Contains(between(before, "<h2>What was found", "</section>"), "Beadle") {
		t.Errorf("forty days ago: %s", between(before, "<main", "</main>"))
	}
	if status, _ := lead.get("/week?on=soon"); status != http.StatusNotFound {
		t.Errorf("no date at all: %d", status)
	}
}
