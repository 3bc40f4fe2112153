package web_test

import (
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"vespers/web"
)

// TestAHaltThatCameWhileOutIsTold to who is out with it and to who may end it, in
// their language, and to nobody else.
func TestAHaltThatCameWhileOutIsTold(t *testing.T) {
	y := wrenfield(t)
	const told = "Halt now: Precentor"
	y.as("tobias").take("precentor")
	for _, who := range []string{"tobias", "maren"} {
		if _, text := y.as(who).get("/alerts"); strings.Contains(text, told) {
			t.Errorf("%s is told before the deadline", who)
		}
	}
	// The deadline of what is wrong with it passes.
	clock := func() time.Time { return time.Now().Add(40 * 24 * time.Hour) }
	handler, stop, err := web.New(web.Config{Store: y.store, Log: slog.New(slog.DiscardHandler), Now: clock})
	if err != nil {
		t.Fatal(err)
	}
	defer stop()
	later := &yard{T: t, server: httptest.NewServer(handler), store: y.store, log: y.log}
	defer later.server.Close()
	for who, words := range map[string]string{
		"tobias": told + " · If it runs, stop",
		"maren":  told + ", with Tobias Fennimar",
		"ines":   "",
		"ruth":   "",
		"jonah":  "",
	} {
		status, text := later.as(who).get("/alerts")
		if status != http.StatusOK || !strings.Contains(text, words) || words == "" && strings.Contains(text, "Precentor") {
			t.Errorf("%s: %d %s", who, status, text)
		}
		if _, page := later.as(who).get("/yard"); strings.Contains(page, told) != (words != "") {
			t.Errorf("%s is told another thing on a page", who)
		}
	}
	if status, _ := later.as("osk").get("/alerts"); status != http.StatusForbidden {
		t.Errorf("a visitor: %d", status)
	}
}
