package web_test

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
)

// TestACalendarByItsAddress: whoever has the address reads it without a PIN; the one
// before leads nowhere, and none does once it is closed or its person has left.
func TestACalendarByItsAddress(t *testing.T) {
	y := wrenfield(t)
	ruth := y.as("ruth")
	address := regexp.MustCompile(`http://[^"]+(/calendar/[a-z2-7]{26}\.ics)`)
	key := regexp.MustCompile(`name="key" value="([a-z2-7]{26})"`)
	n := 0
	open := func() string {
		t.Helper()
		_, page := ruth.get("/me/calendar")
		n++
		_, opened := ruth.post("/me/calendar", "id", fmt.Sprintf("calendar-open-%d", n), "key", key.FindStringSubmatch(page)[1])
		m := address.FindStringSubmatch(opened)
		if m == nil {
			t.Fatal("no address: ", opened)
		}
		return m[1]
	}
	stranger := y.browser()
	first := open()
	if _, page := ruth.get("/me/calendar"); address.MatchString(page) {
		t.Error("the address is shown again")
	}
	status, ics := stranger.get(first)
	if status != http.StatusOK || !strings.HasPrefix(ics, "BEGIN:VCALENDAR\r\n") || !strings.Contains(ics, "UID:care-") || strings.Contains(ics, "{{") {
		t.Errorf("%d: %.600s", status, ics)
	}
	second := open()
	for _, path := range []string{first, "/calendar/none.ics", strings.TrimSuffix(second, ".ics"), "/calendar/" + strings.Repeat("a", 26) + ".ics"} {
		if status, _ := stranger.get(path); status != http.StatusNotFound {
			t.Errorf("%s: %d", path, status)
		}
	}
	if status, _ := stranger.get(second); status != http.StatusOK {
		t.Errorf("the new address: %d", status)
	}
	if status, _ := ruth.post("/me/calendar", "id", "calendar-short-1", "key", "short"); status != http.StatusNotFound {
		t.Errorf("a key of one's own: %d", status)
	}
	ruth.post("/me/calendar/close", "id", "calendar-close-1")
	if status, _ := stranger.get(second); status != http.StatusNotFound {
		t.Errorf("it is closed, and read: %d", status)
	}
	third := open()
	y.as("maren").post("/people/ruth/left", "id", "ruth-left-0001", "reason", "Moved away")
	if status, _ := stranger.get(third); status != http.StatusNotFound {
		t.Errorf("she has left, and it is read: %d", status)
	}
}
