package web_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"
)

// TestAPaperIsCopiedWithoutTheScript: what is refused is shown again where it was typed,
// with what was typed; the script is told the same in its own way.
func TestAPaperIsCopiedWithoutTheScript(t *testing.T) {
	y := wrenfield(t)
	b := y.as("ines")
	_, blank := b.get("/machines/psalter/blank")
	code := regexp.MustCompile(`<b>([0-9A-Z]{4}-[0-9A-Z]{4})</b>`).FindStringSubmatch(blank)
	if code == nil {
		t.Fatal("the paper has no code")
	}
	day := time.Now().AddDate(0, 0, -1).Format(time.DateOnly)
	if status, page := b.post("/paper", "id", "paper-form-1", "code", "AAAA-AAAA", "day", day, "time", "12:05"); status != http.StatusUnprocessableEntity || !strings.Contains(page, `value="AAAA-AAAA"`) {
		t.Errorf("a code of nothing: %d, or what was typed is gone", status)
	}
	r, _ := b.do(http.MethodPost, "/paper", url.Values{"id": {"paper-form-2"}, "code": {code[1]}, "day": {day}, "time": {"12:05"}})
	if r.StatusCode != http.StatusSeeOther {
		t.Fatalf("begin: %d", r.StatusCode)
	}
	at := r.Header.Get("Location")
	_, page := b.get(at)
	field := regexp.MustCompile(`(?s)name="check" value="([^"]+)">\s*<input type="hidden" name="item" value="([^"]+)">\s*<input type="hidden" name="unit" value="([^"]+)">\s*<input type="hidden" name="answer" value="reading">\s*<label`).FindStringSubmatch(page)
	if field == nil {
		t.Fatal("no line of the paper is a number")
	}
	answer := []string{"machine", "psalter", "check", field[1], "item", field[2], "unit", field[3], "answer", "reading", "typed", "987654321"}
	if status, page := b.post(at+"/answer", append(answer, "id", "paper-form-3")...); status != http.StatusUnprocessableEntity || !strings.Contains(page, `value="987654321"`) || !strings.Contains(page, `id="problem"`) {
		t.Errorf("a number out of reach: %d, or what was typed is gone", status)
	}
	b.accept = "application/json"
	if status, body := b.post(at+"/answer", append(answer, "id", "paper-form-4")...); status != http.StatusUnprocessableEntity || !strings.Contains(body, `"error":`) {
		t.Errorf("told to the script: %d %s", status, body)
	}
}
