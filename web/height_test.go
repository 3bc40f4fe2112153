package web_test

import (
	"net/http"
	"strings"
	"testing"
)

// TestHeightOfCutByNotches: planned in the person's unit, refused with what was typed, and
// not there for a machine without notches.
func TestHeightOfCutByNotches(t *testing.T) {
	y := wrenfield(t)
	ines, tobias := y.as("ines"), y.as("tobias")
	status, page := ines.get("/machines/sacrist/height?left=12&right=12,5&want=15&front=7&rear=4")
	for _, want := range []string{"2 muescas arriba", "tuerca del rodillo: 0.5 mm abajo", "soporte delantero además 2 muescas abajo"} {
		if status != http.StatusOK || !strings.Contains(page, want) {
			t.Errorf("%d: not said: %q in %s", status, want, between(page, "<main", "</main>"))
		}
	}
	if status, page := tobias.get("/machines/sacrist/height?left=0.5&right=0.5&want=0.559"); status != http.StatusOK || !strings.Contains(page, "1 notch up") || strings.Contains(page, "roller nut") {
		t.Errorf("in inches: %d %s", status, between(page, "<main", "</main>"))
	}
	for _, bad := range []string{"left=12&right=x&want=15", "left=12&right=12&want=0", "left=12&right=12&want=15&front=3", "left=12&right=12&want=15&front=3&rear=-1"} {
		if status, page := ines.get("/machines/sacrist/height?" + bad); status != http.StatusUnprocessableEntity || !strings.Contains(page, `value="12"`) {
			t.Errorf("%s: %d", bad, status)
		}
	}
	if status, _ := ines.get("/machines/verger/height"); status != http.StatusNotFound {
		t.Errorf("a rider without notches: %d", status)
	}
}
