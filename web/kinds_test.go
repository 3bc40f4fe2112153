package web_test

import (
	"net/http"
	"strings"
	"testing"
)

// TestEverySheetsPagesInBothLanguages: whatever there is to read about a machine of every
// kind opens in either language, with no word missing.
func TestEverySheetsPagesInBothLanguages(t *testing.T) {
	y := wrenfield(t)
	machines, err := y.store.Machines(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	kinds := map[string]bool{}
	for _, who := range []string{"ines", "tobias"} {
		b, opened := y.as(who), 0
		for _, m := range machines {
			kinds[m.Sheet] = true
			for _, page := range []string{"", "/controls", "/steps", "/bench", "/help", "/label", "/height"} {
				status, text := b.get("/machines/" + m.ID + page)
				switch {
				case status == http.StatusNotFound && page != "" && page != "/controls" && page != "/steps" && page != "/label":
				case status != http.StatusOK || strings.Contains(text, "⟨") || strings.Contains(text, "%!"):
					t.Errorf("%s: /machines/%s%s: %d", who, m.ID, page, status)
				default:
					opened++
				}
			}
		}
		if opened < 5*len(machines) {
			t.Errorf("%s: %d pages of %d machines", who, opened, len(machines))
		}
	}
	if len(kinds) < 22 {
		t.Errorf("%d kinds of machine", len(kinds))
	}
}
