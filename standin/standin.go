// Package standin has small simulated devices and services of a yard: a key cabinet, hour
// meters that report, a weather post and a message outbox. They ship so that the demo and
// the tests have something to talk to over a real local interface; what is behind an
// address is a matter of configuration (docs/outside). Each can be made to misbehave.
package standin

import (
	"encoding/json"
	"net/http"
	"sync"
	"time"
)

// The ways a stand-in misbehaves.
const (
	Slow  = "slow"  // it answers after ten seconds
	Wrong = "wrong" // it answers nonsense
	Twice = "twice" // it says everything twice
	Late  = "late"  // its clock is a day behind
	Gone  = "gone"  // it answers with an error
)

// slowly is how long a slow one takes: longer than anybody waits for it.
const slowly = 10 * time.Second

// Device is what all stand-ins have: a clock, and how they misbehave.
type Device struct {
	mu    sync.Mutex
	now   func() time.Time
	fault string
}

// Misbehave makes it misbehave from now on, "" well again.
func (d *Device) Misbehave(fault string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.fault = fault
}

func (d *Device) faulty() string {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.fault
}

// clock is what its clock says.
func (d *Device) clock() time.Time {
	now := d.now()
	if d.faulty() == Late {
		now = now.AddDate(0, 0, -1)
	}
	return now.UTC().Truncate(time.Second)
}

// behave is a handler that misbehaves as the device does. PUT /fault says how.
func (d *Device) behave(mux *http.ServeMux) http.Handler {
	mux.HandleFunc("PUT /fault", func(w http.ResponseWriter, r *http.Request) {
		var f struct{ Fault string }
		if !read(w, r, &f) {
			return
		}
		d.Misbehave(f.Fault)
		w.WriteHeader(http.StatusNoContent)
	})
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/fault" {
			switch d.faulty() {
			case Slow:
				select {
				case <-time.After(slowly):
				case <-r.Context().Done():
					return
				}
			case Wrong:
				w.Header().Set("Content-Type", "application/json")
				w.Write([]byte(`[{"id": -1, "machine": {}, "hours": "many", "grass": "blue"`))
				return
			case Gone:
				http.Error(w, "out of order", http.StatusServiceUnavailable)
				return
			}
		}
		mux.ServeHTTP(w, r)
	})
}

// bodyMost is the longest that anybody sends, in bytes.
const bodyMost = 64 << 10

func read(w http.ResponseWriter, r *http.Request, into any) bool {
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, bodyMost)).Decode(into); err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return false
	}
	return true
}

func answer(w http.ResponseWriter, v any) {
	w.Header().Set("Content-Type", "application/json")
	json.NewEncoder(w).Encode(v) // to a connection that is gone nobody can say so
}
