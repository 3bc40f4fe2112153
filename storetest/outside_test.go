package storetest

import (
	"context"
	"log/slog"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/outside"
	"vespers/standin"
	"vespers/store"
)

// devices are the four, with a desk that asks them as fast as it may.
type devices struct {
	keys   *standin.Keys
	hours  *standin.Hours
	post   *standin.Post
	outbox *standin.Outbox
	desk   *outside.Desk
}

func beside(t *testing.T, s *store.Store) devices {
	t.Helper()
	d := devices{standin.NewKeys(time.Now), standin.NewHours(time.Now), standin.NewPost(time.Now), standin.NewOutbox(time.Now), nil}
	var servers []*httptest.Server
	address := func(server *httptest.Server) string { servers = append(servers, server); return server.URL }
	desk, err := outside.New(outside.Config{Store: s, Log: slog.New(slog.DiscardHandler), Now: time.Now, Pace: 1000,
		Keys: address(httptest.NewServer(d.keys.Handler())), Hours: address(httptest.NewServer(d.hours.Handler())),
		Weather: address(httptest.NewServer(d.post.Handler())), Outbox: address(httptest.NewServer(d.outbox.Handler()))})
	if err != nil {
		t.Fatal(err)
	}
	d.desk = desk
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan bool)
	go func() { desk.Run(ctx); close(ended) }()
	t.Cleanup(func() {
		stop()
		<-ended
		for _, server := range servers {
			server.Close()
		}
	})
	return d
}

// soon waits until something is so.
func soon(t *testing.T, what string, is func() bool) {
	t.Helper()
	for deadline := time.Now().Add(20 * time.Second); time.Now().Before(deadline); time.Sleep(5 * time.Millisecond) {
		if is() {
			return
		}
	}
	t.Fatalf("never: %s", what)
}

func (d devices) trouble(device string) outside.Trouble {
	for _, s := range d.desk.Status() {
		if s.Device == device {
			return s.Trouble
		}
	}
	return "not there"
}

// TestWhatIsBesideAYard: each device when it is well, and when it is not; what it says is
// never anybody's word.
func TestWhatIsBesideAYard(t *testing.T) {
	s, _ := wrenfield(t)
	before, err := s.Newest(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	d := beside(t, s)
	soon(t, "all are well", func() bool {
		for _, one := range d.desk.Status() {
			if one.Trouble != outside.Well {
				return false
			}
		}
		return len(d.desk.Status()) == 4
	})

	// The key of what is out may be taken, that of what is on Halt or not walked may not.
	soon(t, "Cantor's key may be taken", func() bool { return d.keys.Take("cantor") })
	soon(t, "it is known to be out", func() bool { out, since, known := d.desk.KeyOut("cantor"); return known && out && !since.IsZero() })
	for _, id := range []string{"beadle", "almoner", "verger", "no-such-machine"} {
		if d.keys.Take(id) {
			t.Errorf("the key of %s was given", id)
		}
	}

	// Hours that can be, that cannot, twice, and of no machine.
	m, err := s.Machine(t.Context(), "verger")
	if err != nil {
		t.Fatal(err)
	}
	d.hours.Misbehave(standin.Twice)
	d.hours.Report("no-such-machine", 5)
	d.hours.Report("verger", m.Hours+0.1)
	d.hours.Report("sexton", 1)
	soon(t, "Verger's meter is heard", func() bool {
		r, ok := d.desk.Reported("verger")
		return ok && r.Doubt == nil && *r.Hours == m.Hours+0.1
	})
	soon(t, "Sexton's runs back", func() bool {
		r, ok := d.desk.Reported("sexton")
		return ok && r.Doubt != nil && r.Doubt.Rule == "fed.runs_back"
	})
	if _, ok := d.desk.Reported("no-such-machine"); ok {
		t.Error("a machine that is not here reports")
	}

	// Lightning far off, near, and nonsense.
	for km, want := range map[float64]string{40: "none", 10: "about", 0: "about"} {
		d.post.See(standin.Weather{Grass: "wet", Light: "poor", Storm: &km})
		soon(t, want, func() bool { w, ok := d.desk.Weather(); return ok && w.Storm == want && w.Grass == "wet" })
	}
	d.post.See(standin.Weather{Grass: "blue", Light: "good"})
	soon(t, "nonsense is said", func() bool { return d.trouble(outside.Weather) == outside.Nonsense })
	if _, ok := d.desk.Weather(); ok {
		t.Error("blue grass is weather")
	}

	// Every way to misbehave is said, and every one is well again by itself.
	for fault, want := range map[string]outside.Trouble{standin.Gone: outside.Silent, standin.Wrong: outside.Nonsense, standin.Late: outside.Clock} {
		d.keys.Misbehave(fault)
		d.hours.Misbehave(fault)
		soon(t, "keys: "+fault, func() bool { return d.trouble(outside.Keys) == want })
		soon(t, "hours: "+fault, func() bool { return d.trouble(outside.Hours) == want })
		if _, ok := d.desk.Reported("verger"); ok {
			t.Errorf("%s, and its hours are gone by", fault)
		}
		out, since, known := d.desk.KeyOut("cantor")
		if late := fault == standin.Late; known != late || out != late || !since.IsZero() {
			t.Errorf("%s: out %v since %v, known %v", fault, out, since, known)
		}
		d.keys.Misbehave("")
		d.hours.Misbehave("")
		soon(t, "well again", func() bool {
			return d.trouble(outside.Keys) == outside.Well && d.trouble(outside.Hours) == outside.Well
		})
	}
	d.keys.Misbehave(standin.Slow)
	soon(t, "slow is silent", func() bool { return d.trouble(outside.Keys) == outside.Silent })

	if after, err := s.Newest(t.Context()); err != nil || after.Seq != before.Seq {
		t.Errorf("the devices said something in somebody's name: %+v", after)
	}
}

// TestWhoIsToldOutside: leads of a Halt that somebody else found, once, in their language,
// when the outbox is there again.
func TestWhoIsToldOutside(t *testing.T) {
	s, path := wrenfield(t)
	d := beside(t, s)
	soon(t, "the outbox is well", func() bool { return d.trouble(outside.Outbox) == outside.Well })
	d.outbox.Misbehave(standin.Gone)
	told := len(d.outbox.Messages())
	o := take(t, s, "take-sexton-1", "ines", "sexton", "")
	for i, c := range []outing.Command{outingtest.Ready(o), outingtest.Fault("sexton", "seat_belt", "buckle")} {
		if _, err := say(s, "sexton-say-"+string(rune('a'+i)), "ines", in(o.ID, c)); err != nil {
			t.Fatal(err)
		}
	}
	soon(t, "messages wait", func() bool { return d.desk.Waiting() == 2 }) // Maren and Edda
	if len(d.outbox.Messages()) != told {
		t.Error("an outbox that is not there took something")
	}
	d.outbox.Misbehave("")
	soon(t, "both are told", func() bool { return len(d.outbox.Messages()) == told+2 && d.desk.Waiting() == 0 })
	for _, m := range d.outbox.Messages()[told:] {
		if !strings.Contains(m.Text, "Sexton") || !strings.Contains(m.Text, "Inés Carvanal") || m.Language != "en" || strings.Contains(m.Text, "no value") {
			t.Errorf("%+v", m)
		}
	}

	// Another program on the same file tells nobody again.
	again := open(t, path)
	second := beside(t, again)
	soon(t, "it is well", func() bool { return second.trouble(outside.Outbox) == outside.Well })
	if got := second.outbox.Messages(); len(got) != 0 {
		t.Errorf("told again: %+v", got)
	}
}
