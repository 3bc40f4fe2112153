package web_test

import (
	"net/http"
	"strings"
	"testing"
	"time"

	coreyard "vespers/core/yard"
	"vespers/demo"
)

// TestTheDayAsItWas: who had what, from stage to stage in words, what is not home,
// by person and by machine; yesterday only what happened then.
func TestTheDayAsItWas(t *testing.T) {
	y := wrenfield(t)
	lead := y.as("maren")
	status, today := lead.get("/day")
	main := between(today, "<main", "</main>")
	if status != http.StatusOK {
		t.Fatal(status)
	}
	for _, want := range []string{"2 getting ready", "1 out", "Not home yet", "walk-around", "interlocks", "let out by Tobias Fennimar", `class="leg out"`, `class="leg walk"`} {
		if !strings.Contains(main, want) {
			t.Errorf("today says nothing of %q: %s", want, main)
		}
	}
	if by := strings.Index(main, "<h3>Tobias Fennimar</h3>"); by < 0 || !strings.Contains(main[by:], "<b>Cantor</b>") {
		t.Error("Cantor is not under Tobias")
	}
	_, machines := lead.get("/day?by=machine")
	if by := strings.Index(machines, "<h3>Cantor</h3>"); by < 0 || !strings.Contains(machines[by:], "<b>Tobias Fennimar</b>") {
		t.Error("Tobias is not under Cantor")
	}
	zone, err := time.LoadLocation(demo.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	// The demo lets no outing begin just before a day ends.
	serviced := coreyard.DayStart(time.Now().AddDate(0, 0, -2).Add(45*time.Minute), zone).In(zone).Format(time.DateOnly)
	_, past := lead.get("/day?on=" + serviced)
	if past = between(past, "<main", "</main>"); !strings.Contains(past, "did not go out") || strings.Contains(past, "Not home yet") || strings.Contains(past, "day-now") {
		t.Errorf("the day of the service: %s", past)
	}
	if _, long := lead.get("/day?on=2001-01-01"); !strings.Contains(long, "Nothing went out that day.") {
		t.Error("a day on which nothing happened says something else")
	}
	if status, _ := lead.get("/day?on=yesterday"); status != http.StatusNotFound {
		t.Errorf("no day at all: %d", status)
	}
}
