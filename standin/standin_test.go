package standin

import (
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/goccy/go-yaml"
)

func now() time.Time { return time.Date(2026, 11, 26, 7, 0, 0, 0, time.UTC) }

// TestTheDescriptions: every path of docs/outside is there, and nothing but what is
// described answers.
func TestTheDescriptions(t *testing.T) {
	for name, handler := range map[string]http.Handler{"key-cabinet": NewKeys(now).Handler(), "hour-meters": NewHours(now).Handler(), "weather-post": NewPost(now).Handler(), "message-outbox": NewOutbox(now).Handler()} {
		data, err := os.ReadFile("../docs/outside/" + name + ".yaml")
		if err != nil {
			t.Fatal(err)
		}
		var api struct {
			Openapi string
			Paths   map[string]map[string]any
		}
		if err := yaml.Unmarshal(data, &api); err != nil || api.Openapi != "3.0.3" || len(api.Paths) == 0 {
			t.Fatalf("%s: %v %+v", name, err, api)
		}
		for path, methods := range api.Paths {
			for _, method := range []string{"get", "put", "post", "delete"} {
				w := httptest.NewRecorder()
				handler.ServeHTTP(w, httptest.NewRequest(strings.ToUpper(method), strings.ReplaceAll(path, "{machine}", "verger"), strings.NewReader("{}")))
				_, described := methods[method]
				if there := w.Code != http.StatusNotFound && w.Code != http.StatusMethodNotAllowed; there != described {
					t.Errorf("%s: %s %s is described: %v, and answers %d", name, method, path, described, w.Code)
				}
			}
		}
	}
}

// TestACabinet: gives what may be taken, blinks for what is out and may not be.
func TestACabinet(t *testing.T) {
	k := NewKeys(now)
	if k.Take("verger") {
		t.Error("a key that nobody has allowed was taken")
	}
	k.permit("verger", true, "")
	if !k.Take("verger") || k.Take("verger") {
		t.Error("a key is taken once")
	}
	k.permit("verger", false, "key.on_halt")
	if one := k.list()[0]; !one.Out || !one.Recalled || one.Why != "key.on_halt" || !one.Since.Equal(now()) {
		t.Errorf("%+v", one)
	}
	k.Return("verger")
	if one := k.list()[0]; one.Out || one.Recalled || one.Since != nil {
		t.Errorf("%+v", one)
	}
}
