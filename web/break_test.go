package web_test

import (
	"net/http"
	"strings"
	"testing"
)

func TestTheLookAtABreak(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	_, page := b.get("/machines/cantor")
	at := strings.Index(page, `href="/outings/`)
	o := page[at+len(`href="`):]
	o = o[:strings.IndexByte(o, '"')]
	if status, _ := b.post(o+"/break", "id", "break-begin-1"); status != http.StatusSeeOther {
		t.Fatal("not begun:", status)
	}
	status, page := b.get(o + "/break")
	if status != http.StatusOK || strings.Contains(page, "⟨") || !strings.Contains(page, "/break/answer") {
		t.Fatal(status, page, y.log.String())
	}
	// A point that is not open is refused, and a fault ends in the verdict.
	if status, text := b.post(o+"/break/answer", "id", "break-wrong-1", "machine", "cantor", "check", "roll_bar", "item", "", "answer", "sound"); status == http.StatusSeeOther || !strings.Contains(text, "not open") {
		t.Errorf("a point that is not looked at in a break: %d", status)
	}
	if status, _ := b.post(o+"/break/answer", "id", "break-fault-1", "machine", "cantor", "check", "chute", "item", "", "answer", "fault", "fault", "missing"); status != http.StatusSeeOther {
		t.Error("the fault was not taken:", status)
	}
	if _, page := b.get(o + "/verdict"); !strings.Contains(page, "halt-card") || !strings.Contains(page, "Looked round at a break by Tobias") {
		t.Error("the verdict does not say what the break found")
	}
	if _, page := b.get(o + "/slip"); !strings.Contains(page, `class="spot fault"`) {
		t.Error("the tag does not show where it was found")
	}
	if status, _ := y.as("osk").post(o+"/break", "id", "break-visitor-1"); status != http.StatusForbidden {
		t.Error("a visitor looked round:", status)
	}
}
