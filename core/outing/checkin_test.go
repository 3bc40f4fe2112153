package outing_test

import (
	"testing"
	"time"

	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// TestWhoIsNotHeardOfIsLookedFor: due by the yard's clock, heard of by themselves alone,
// and somebody is named who goes.
func TestWhoIsNotHeardOfIsLookedFor(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	for clock, want := range map[string]string{"25:00": "ready.check_in_time", "05:00": "check_in.time_is_over"} {
		ready := outingtest.Ready(r.o)
		ready.CheckIn = clock
		if err := r.try(ready); rule(err) != want {
			t.Errorf("looked for at %s: %v", clock, err)
		}
	}
	ready := outingtest.Ready(r.o)
	ready.CheckIn = "07:00"
	r.must(ready)
	due := morning.Add(time.Hour)
	if got := r.o.Now().Due; !got.Equal(due) {
		t.Fatalf("due at %v", got)
	}
	if r.o.Missed(due) || !r.o.Missed(due.Add(time.Second)) {
		t.Error("missed a moment too early, or never")
	}
	r.by = "maren"
	r.refused(outing.Seek{Who: "otto"}, "check_in.not_missed")
	r.n = 3700
	for _, nobody := range []string{"", "ida", "stranger"} {
		r.refused(outing.Seek{Who: nobody}, "check_in.who_goes")
	}
	r.refused(outing.CheckIn{Next: "09:00"}, "who.anothers_outing") // nobody is well by another's word
	r.must(outing.Seek{Who: "otto"})
	if now := r.o.Now(); now.Sought != "otto" || now.SoughtBy.By != "maren" || !r.o.Missed(r.now()) {
		t.Errorf("%+v", now)
	}
	r.by = "ida"
	r.refused(outing.CheckIn{Next: ""}, "ready.check_in_time")
	r.must(outing.CheckIn{Next: "09:00"})
	if now := r.o.Now(); r.o.Missed(r.now()) || now.Sought != "" || !now.Due.Equal(morning.Add(3*time.Hour)) || now.Heard.By != "ida" {
		t.Errorf("%+v", now)
	}
	r.must(outing.CheckIn{Next: "03:59"}) // the day ends at four
	r.n = 23 * 3600
	if !r.o.Missed(r.now()) {
		t.Error("an evening goes by and nobody is missed")
	}
	r.must(outing.End{})
	if r.o.Missed(r.now()) {
		t.Error("who is home is missed")
	}
}
