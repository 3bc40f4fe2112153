package web_test

import (
	"net/http"
	"strings"
	"testing"
)

// TestPatternsNameTheStuckGauge: of all that was read on Cantor for weeks only
// the gauge that always says the same is named, once, with its machine.
func TestPatternsNameTheStuckGauge(t *testing.T) {
	y := wrenfield(t)
	status, page := y.as("maren").get("/patterns")
	if status != http.StatusOK || strings.Count(page, "Cantor, last read by") != 1 || strings.Count(page, "times in a row") != 1 || !strings.Contains(page, "rear left: 100 kPa") {
		t.Errorf("%d: %s", status, page[strings.Index(page, "<main"):])
	}
	if status, _ := y.as("ines").get("/patterns"); status != http.StatusForbidden {
		t.Errorf("an operator sees patterns: %d", status)
	}
}
