package export

import (
	"bytes"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	ics "github.com/arran4/golang-ical"
)

// TestCalendar: what is written is read back, whole days, long Spanish lines too.
func TestCalendar(t *testing.T) {
	on := time.Date(2026, 12, 24, 4, 0, 0, 0, time.FixedZone("", 3600))
	long := strings.Repeat("ñandú; engrásela, \\ y límpiela: ", 12)
	entries := []Entry{{UID: "care-verger-oil@vespers", Summary: "Verger: aceite", Description: long, URL: "http://yard/machines/verger", On: on}, {UID: "b@vespers", Summary: long, On: on}}
	var out bytes.Buffer
	if err := Calendar(&out, "Wrenfield", "es", on, entries); err != nil {
		t.Fatal(err)
	}
	for _, line := range strings.Split(strings.TrimSuffix(out.String(), "\r\n"), "\r\n") {
		if len(line) > 76 || !utf8.ValidString(line) || strings.Contains(line, "\n") {
			t.Errorf("%d bytes: %q", len(line), line)
		}
	}
	c, err := ics.ParseCalendar(&out)
	if err != nil || len(c.Events()) != 2 {
		t.Fatalf("%v", err)
	}
	e := c.Events()[0]
	if at, err := e.GetAllDayStartAt(); err != nil || at.Format(time.DateOnly) != "2026-12-24" {
		t.Errorf("%v %v", at, err)
	}
	if got := e.GetProperty(ics.ComponentPropertyDescription).Value; ics.FromText(got) != long && got != long {
		t.Errorf("%q", got)
	}
	if got := c.Events()[1].GetProperty(ics.ComponentPropertySummary); got.Value != long && ics.FromText(got.Value) != long || got.ICalParameters["LANGUAGE"][0] != "es" {
		t.Errorf("%+v", got)
	}
	var again bytes.Buffer
	if err := Calendar(&again, "Wrenfield", "es", on, entries); err != nil || again.Len() == 0 {
		t.Fatal(err)
	}
}
