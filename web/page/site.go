package page

// What every page stands on: the store, the words, the pictures.

import (
	"log/slog"
	"time"

	"github.com/alexedwards/scs/v2"

	"vespers/core/operator"
	"vespers/outside"
	"vespers/store"
)

// Site is what pages are made from.
type Site struct {
	Store    *store.Store
	Log      *slog.Logger
	Sessions *scs.SessionManager
	Now      func() time.Time
	// Idle ends a session on a shared tablet after this long without a page.
	Idle time.Duration
	// Secure marks cookies for HTTPS only.
	Secure bool
	// Backups writes the yard's backups; nil where nobody asked for that.
	Backups *store.Keeper
	// Outside are the devices beside the yard; nil where there are none.
	Outside *outside.Desk
	// Demo lists people with their PINs on the sign-in page of the demo.
	Demo map[string]string
	// Static is where the files that ship with the program are.
	Static string
}

// Route is one address and what is done there. Who may use it follows from the
// act; nobody but the core says who may do that.
type Route struct {
	Method, Path string
	Act          operator.Act // what it is for; "" for anyone, signed in or not
	Handle       func(*Visit)
	// Upload: a file may be sent.
	Upload bool
}

// Get is a page.
func Get(path string, act operator.Act, handle func(*Visit)) Route {
	return Route{Method: "GET", Path: path, Act: act, Handle: handle}
}

// Post is a form.
func Post(path string, act operator.Act, handle func(*Visit)) Route {
	return Route{Method: "POST", Path: path, Act: act, Handle: handle}
}
