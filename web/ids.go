package web

import (
	"crypto/rand"
	"net/http"
	"strings"
)

// newID is an id for a form that is sent without the page's script; with it,
// the script makes one.
func newID() string { return strings.ToLower(rand.Text()) }

// checkID refuses a form without a usable id.
func (s *server) checkID(v *visit) bool {
	if validID(v.field("id")) {
		return true
	}
	v.problem(http.StatusBadRequest, v.T("error.bad_form"), "")
	return false
}
