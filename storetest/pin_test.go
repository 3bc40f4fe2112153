package storetest

import (
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"vespers/core/yard"
	"vespers/demo"
	"vespers/store"
)

// guesser tries PINs of people by a clock of its own.
type guesser struct {
	t   *testing.T
	s   *store.Store
	now time.Time
}

func newGuesser(t *testing.T) *guesser {
	g := &guesser{t: t, now: time.Now().Add(time.Minute)}
	s, _ := wrenfield(t)
	g.s = s.WithClock(func() time.Time { return g.now })
	return g
}

// try gives "in", "wrong", or "paused".
func (g *guesser) try(who, pin, device, address string) string {
	g.t.Helper()
	_, ok, err := g.s.CheckPIN(ctx, who, pin, store.From{Device: device, Address: address})
	var paused *store.Paused
	switch {
	case errors.As(err, &paused):
		return "paused"
	case err != nil:
		g.t.Fatal(err)
	case ok:
		return "in"
	}
	return "wrong"
}

func (g *guesser) want(want, who, pin, device, address string) {
	g.t.Helper()
	if got := g.try(who, pin, device, address); got != want {
		g.t.Errorf("%s with %s on %s: %s, want %s", who, pin, device, got, want)
	}
}

// TestAStrangerDoesNotPauseTheCrew: a device that somebody has used is not
// paused by others' tries.
func TestAStrangerDoesNotPauseTheCrew(t *testing.T) {
	g := newGuesser(t)
	right := demo.PINs()["tobias"]
	g.want("in", "tobias", right, "his", "10.0.0.5")
	for n := range 40 {
		g.try("tobias", fmt.Sprintf("%04d", n), fmt.Sprintf("strange-%d", n), "10.0.0.66")
	}
	g.want("paused", "tobias", right, "strange", "10.0.0.66")
	g.want("paused", "tobias", right, "another", "10.0.0.67")
	g.want("in", "tobias", right, "his", "10.0.0.5")
	tried, err := g.s.Tried(ctx, "tobias", g.now.Add(-time.Hour), 10)
	if err != nil || len(tried) == 0 || tried[0].Known || tried[0].Address != "10.0.0.66" || tried[0].PersonName != "Tobias Fennimar" {
		t.Errorf("nobody is told: %+v, %v", tried, err)
	}
}

// TestPausesGrow with every further wrong PIN, also on one's own device, and a
// right one forgets them.
func TestPausesGrow(t *testing.T) {
	g := newGuesser(t)
	right := demo.PINs()["ines"]
	g.want("in", "ines", right, "hers", "10.0.0.5")
	g.want("wrong", "ines", "0000", "hers", "10.0.0.5")
	g.want("wrong", "ines", "0001", "hers", "10.0.0.5")
	g.want("paused", "ines", "0002", "hers", "10.0.0.5")
	g.want("paused", "ines", right, "hers", "10.0.0.5")
	g.now = g.now.Add(31 * time.Second)
	g.want("paused", "ines", "0003", "hers", "10.0.0.5")
	g.now = g.now.Add(31 * time.Second)
	g.want("paused", "ines", right, "hers", "10.0.0.5") // a minute now
	g.now = g.now.Add(31 * time.Second)
	g.want("in", "ines", right, "hers", "10.0.0.5")
	g.want("wrong", "ines", "0000", "hers", "10.0.0.5")
	g.want("in", "ines", right, "hers", "10.0.0.5")
}

// TestAnAddressIsBounded: one that tries a PIN of everybody is.
func TestAnAddressIsBounded(t *testing.T) {
	g := newGuesser(t)
	crew := []string{"maren", "ines", "tobias", "ruth", "jonah", "lucia", "edda", "osk"}
	paused := 0
	for n := range 12 {
		if g.try(crew[n%len(crew)], "0000", "strange", "10.0.0.66") == "paused" {
			paused++
		}
	}
	if paused < 3 {
		t.Errorf("twelve tries over the crew were paused %d times", paused)
	}
	g.want("in", "maren", demo.PINs()["maren"], "hers", "10.0.0.5")
}

// TestEightImpatientTaps with the right PIN cost nothing.
func TestEightImpatientTaps(t *testing.T) {
	g := newGuesser(t)
	var wait sync.WaitGroup
	said := make([]string, 8)
	for n := range said {
		wait.Add(1)
		go func() {
			defer wait.Done()
			said[n] = g.try("lucia", demo.PINs()["lucia"], "hers", "10.0.0.5")
		}()
	}
	wait.Wait()
	if strings.Join(said, " ") != strings.TrimSpace(strings.Repeat("in ", 8)) {
		t.Error(said)
	}
}

// TestSomeoneUnknown is no different from a wrong PIN.
func TestSomeoneUnknown(t *testing.T) {
	newGuesser(t).want("wrong", "nobody", "4071", "d", "10.0.0.5")
}

// TestPINAndRecordAreOne: either both are there, or neither; a replay with
// another PIN is refused.
func TestPINAndRecordAreOne(t *testing.T) {
	s, _ := wrenfield(t)
	lend := func(id, pin string) error {
		_, err := say(s, id, "maren", yard.LendPIN{Person: "jonah", PIN: pin})
		return err
	}
	if err := lend("lend-1", "7391"); err != nil {
		t.Fatal(err)
	}
	if err := lend("lend-1", "7391"); err != nil {
		t.Errorf("the same again: %v", err)
	}
	var conflict *store.Conflict
	if err := lend("lend-1", "8264"); !errors.As(err, &conflict) {
		t.Errorf("the same id with another PIN: %v", err)
	}
	if rule := refusedBy(lend("lend-2", "1111")); rule != "pin.obvious" {
		t.Errorf("an obvious one: %q", rule)
	}
	from := store.From{Device: "d", Address: "a"}
	if a, ok, err := s.CheckPIN(ctx, "jonah", "7391", from); err != nil || !ok || !a.Lent {
		t.Errorf("%+v %v %v", a, ok, err)
	}
	before, err := s.Access(ctx, "jonah")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "own-pin", "jonah", yard.ChangePIN{PIN: "582914"}); err != nil {
		t.Fatal(err)
	}
	after, err := s.Access(ctx, "jonah")
	if err != nil || after.Lent || after.Number == before.Number {
		t.Errorf("%+v, then %+v: %v", before, after, err)
	}
	records, err := s.Newest(ctx)
	if err != nil || strings.Contains(string(records.Body), "582914") {
		t.Errorf("the PIN is in the record: %s %v", records.Body, err)
	}
	var kept string
	if err := s.Sessions().QueryRowContext(ctx, "SELECT hash FROM credential WHERE person='jonah'").Scan(&kept); err != nil || !strings.HasPrefix(kept, "$argon2id$v=19$m=19456,t=2,p=1$") {
		t.Errorf("kept as %q, %v", kept, err)
	}
	whole(t, s)
}

// TestFirstVisitPressedTwelveTimes makes one yard with one lead.
func TestFirstVisitPressedTwelveTimes(t *testing.T) {
	s := open(t, t.TempDir()+"/yard.vespers")
	var wait sync.WaitGroup
	errs := make([]error, 12)
	for n := range errs {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, errs[n] = say(s, fmt.Sprintf("setup-%d", n), "", yard.SetUp{Yard: "Wrenfield", Timezone: "UTC", Name: fmt.Sprintf("Lead %d", n), Language: "en", PIN: "4071"})
		}()
	}
	wait.Wait()
	done := 0
	for _, err := range errs {
		if err == nil {
			done++
		} else if refusedBy(err) != "yard.set_up_already" {
			t.Error(err)
		}
	}
	people, err := s.People(ctx)
	if err != nil || done != 1 || len(people) != 1 {
		t.Errorf("%d set it up, %d leads, %v", done, len(people), err)
	}
	if _, ok, err := s.CheckPIN(ctx, people[0].ID, "4071", store.From{Device: "d", Address: "a"}); err != nil || !ok {
		t.Errorf("the lead cannot sign in: %v", err)
	}
	whole(t, s)
}
