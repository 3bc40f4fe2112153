package standin

// The weather post.

import (
	"net/http"
	"time"
)

// Weather is what a weather post sees.
type Weather struct {
	Grass string    `json:"grass"`        // dry, wet, frozen
	Light string    `json:"light"`        // good, poor, dark
	Storm *float64  `json:"lightning_km"` // how far off the last flash was; null for none
	At    time.Time `json:"at"`
}

// Post is a weather post.
type Post struct {
	Device
	sees Weather
}

// NewPost sees a dry, light day.
func NewPost(now func() time.Time) *Post {
	return &Post{Device: Device{now: now}, sees: Weather{Grass: "dry", Light: "good"}}
}

// See makes it see something else.
func (p *Post) See(w Weather) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.sees = w
}

// Handler is its interface (docs/outside/weather-post.yaml).
func (p *Post) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /now", func(w http.ResponseWriter, r *http.Request) {
		at := p.clock()
		p.mu.Lock()
		sees := p.sees
		p.mu.Unlock()
		sees.At = at
		answer(w, sees)
	})
	mux.HandleFunc("PUT /now", func(w http.ResponseWriter, r *http.Request) {
		var said Weather
		if read(w, r, &said) {
			p.See(said)
			w.WriteHeader(http.StatusNoContent)
		}
	})
	return p.behave(mux)
}
