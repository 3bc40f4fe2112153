package standin

// Hour meters that report.

import (
	"net/http"
	"strconv"
	"time"
)

// Reading is what an hour meter reported.
type Reading struct {
	ID      int       `json:"id"`
	Machine string    `json:"machine"`
	Hours   float64   `json:"hours"`
	At      time.Time `json:"at"`
}

// Hours are hour meters that report by themselves.
type Hours struct {
	Device
	readings []Reading
}

// NewHours has nothing to report yet.
func NewHours(now func() time.Time) *Hours { return &Hours{Device: Device{now: now}} }

// Report is a reading that a meter sends.
func (h *Hours) Report(machine string, hours float64) {
	at := h.clock()
	h.mu.Lock()
	defer h.mu.Unlock()
	h.readings = append(h.readings, Reading{ID: len(h.readings) + 1, Machine: machine, Hours: hours, At: at})
}

// Handler is its interface (docs/outside/hour-meters.yaml).
func (h *Hours) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /readings", func(w http.ResponseWriter, r *http.Request) {
		after, _ := strconv.Atoi(r.URL.Query().Get("after"))
		h.mu.Lock()
		out := []Reading{}
		for _, one := range h.readings {
			if one.ID > after {
				out = append(out, one)
				if h.fault == Twice {
					out = append(out, one)
				}
			}
		}
		h.mu.Unlock()
		answer(w, map[string]any{"at": h.clock(), "readings": out})
	})
	mux.HandleFunc("POST /readings", func(w http.ResponseWriter, r *http.Request) {
		var said Reading
		if read(w, r, &said) {
			h.Report(said.Machine, said.Hours)
			w.WriteHeader(http.StatusNoContent)
		}
	})
	return h.behave(mux)
}
