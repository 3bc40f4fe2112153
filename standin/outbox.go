package standin

// The message outbox.

import (
	"net/http"
	"slices"
	"time"
)

// Message is something that a person is told.
type Message struct {
	ID       string    `json:"id"`
	To       string    `json:"to"` // their name
	Language string    `json:"language"`
	Text     string    `json:"text"`
	At       time.Time `json:"at"`
}

// Outbox takes messages and would send them; the same id is sent once.
type Outbox struct {
	Device
	messages []Message
}

// NewOutbox is empty.
func NewOutbox(now func() time.Time) *Outbox { return &Outbox{Device: Device{now: now}} }

// Messages lists what was taken.
func (o *Outbox) Messages() []Message {
	o.mu.Lock()
	defer o.mu.Unlock()
	return slices.Clone(o.messages)
}

// Handler is its interface (docs/outside/message-outbox.yaml).
func (o *Outbox) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /messages", func(w http.ResponseWriter, r *http.Request) {
		answer(w, map[string]any{"at": o.clock(), "messages": append([]Message{}, o.Messages()...)})
	})
	mux.HandleFunc("POST /messages", func(w http.ResponseWriter, r *http.Request) {
		var m Message
		if !read(w, r, &m) {
			return
		}
		o.mu.Lock()
		defer o.mu.Unlock()
		if m.ID == "" || m.Text == "" {
			http.Error(w, "a message has an id and a text", http.StatusBadRequest)
			return
		}
		if !slices.ContainsFunc(o.messages, func(had Message) bool { return had.ID == m.ID }) {
			o.messages = append(o.messages, m)
		}
		w.WriteHeader(http.StatusNoContent)
	})
	return o.behave(mux)
}
