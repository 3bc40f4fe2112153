package standin

// The key cabinet.

import (
	"net/http"
	"slices"
	"strings"
	"time"
)

// Key is one key of the cabinet.
type Key struct {
	Machine string `json:"machine"`
	// May says that it may be taken, Why why not.
	May bool   `json:"may"`
	Why string `json:"why,omitempty"`
	// Out says that it is not in the cabinet, since when; Recalled that it may not be out.
	Out      bool       `json:"out"`
	Since    *time.Time `json:"since,omitempty"`
	Recalled bool       `json:"recalled,omitempty"`
}

// eagerly is how long after it is recalled an eager crew brings a key back.
const eagerly = 30 * time.Second

// Keys is a key cabinet: it gives the keys that may be taken, and blinks for those that
// are out and may not be.
type Keys struct {
	Device
	keys map[string]*Key
	// Eager: its crew takes each key as soon as it may, and brings it back soon after it
	// is recalled.
	Eager bool
}

// NewKeys is an empty cabinet.
func NewKeys(now func() time.Time) *Keys {
	return &Keys{Device: Device{now: now}, keys: map[string]*Key{}}
}

// Handler is its interface (docs/outside/key-cabinet.yaml).
func (k *Keys) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /keys", func(w http.ResponseWriter, r *http.Request) {
		answer(w, map[string]any{"at": k.clock(), "keys": k.list()})
	})
	mux.HandleFunc("PUT /keys/{machine}", func(w http.ResponseWriter, r *http.Request) {
		var said struct {
			May bool
			Why string
		}
		if read(w, r, &said) {
			k.permit(r.PathValue("machine"), said.May, said.Why)
			w.WriteHeader(http.StatusNoContent)
		}
	})
	mux.HandleFunc("POST /keys/{machine}/take", func(w http.ResponseWriter, r *http.Request) {
		if !k.Take(r.PathValue("machine")) {
			http.Error(w, "it may not be taken", http.StatusConflict)
			return
		}
		w.WriteHeader(http.StatusNoContent)
	})
	mux.HandleFunc("POST /keys/{machine}/return", func(w http.ResponseWriter, r *http.Request) {
		k.Return(r.PathValue("machine"))
		w.WriteHeader(http.StatusNoContent)
	})
	return k.behave(mux)
}

func (k *Keys) list() []Key {
	k.mu.Lock()
	defer k.mu.Unlock()
	out := []Key{}
	for _, one := range k.keys {
		out = append(out, *one)
	}
	slices.SortFunc(out, func(a, b Key) int { return strings.Compare(a.Machine, b.Machine) })
	if k.fault == Twice {
		out = append(out, out...)
	}
	return out
}

func (k *Keys) permit(machine string, may bool, why string) {
	k.mu.Lock()
	defer k.mu.Unlock()
	one := k.keys[machine]
	if one == nil {
		one = &Key{Machine: machine}
		k.keys[machine] = one
	}
	one.May, one.Why = may, why
	one.Recalled = one.Out && !may
	switch {
	case !k.Eager:
	case may:
		at := k.now().UTC().Truncate(time.Second)
		one.Out, one.Since = true, &at
	case one.Out:
		time.AfterFunc(eagerly, func() { k.returned(machine) })
	}
}

// returned puts back a key that may not be out.
func (k *Keys) returned(machine string) {
	k.mu.Lock()
	may := k.keys[machine].May
	k.mu.Unlock()
	if !may {
		k.Return(machine)
	}
}

// Take takes a key out, where it may be.
func (k *Keys) Take(machine string) bool {
	at := k.clock()
	k.mu.Lock()
	defer k.mu.Unlock()
	one := k.keys[machine]
	if one == nil || !one.May || one.Out {
		return false
	}
	one.Out, one.Since = true, &at
	return true
}

// Return puts a key back.
func (k *Keys) Return(machine string) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if one := k.keys[machine]; one != nil {
		one.Out, one.Since, one.Recalled = false, nil, false
	}
}
