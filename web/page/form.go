package page

// Forms: what was sent, what was saved, what was refused.

import (
	"crypto/rand"
	"mime/multipart"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/store"
)

// NewID is an id for a form that is sent without the page's script; with it,
// the script makes one.
func NewID() string { return strings.ToLower(rand.Text()) }

// Field is one field of the form, trimmed.
func (v *Visit) Field(name string) string { return strings.TrimSpace(v.gin.PostForm(name)) }

// Fields are all values of one field.
func (v *Visit) Fields(name string) []string { return v.gin.PostFormArray(name) }

// Ways are the fields of a form that say how options stand, NAME[MACHINE.OPTION],
// by machine.
func (v *Visit) Ways(name string) map[string]machine.Chosen {
	out := map[string]machine.Chosen{}
	for key, way := range v.gin.PostFormMap(name) {
		id, option, _ := strings.Cut(key, ".")
		if out[id] == nil {
			out[id] = machine.Chosen{}
		}
		out[id][option] = strings.TrimSpace(way)
	}
	return out
}

// Whole is a field that holds a whole number; -1 for anything else.
func (v *Visit) Whole(name string) int {
	n, err := strconv.Atoi(v.Field(name))
	if err != nil {
		return -1
	}
	return n
}

// File is a file of the form; nil if there is none.
func (v *Visit) File(name string) multipart.File {
	file, _, err := v.gin.Request.FormFile(name)
	if err != nil {
		return nil
	}
	return file
}

// Multipart reads a form with a file in it.
func (v *Visit) Multipart() error { return v.gin.Request.ParseMultipartForm(1 << 20) }

// entry is who says something, under the id that whoever sent it made. The
// request is all its fields in a fixed order, but for PINs, which nothing that
// is kept may tell.
func (v *Visit) entry() store.Entry {
	v.gin.Request.ParseForm()
	fields := url.Values{}
	for k, values := range v.gin.Request.PostForm {
		switch k {
		case "id", "device_at", "pin", "pin_again", "pin_now":
		default:
			fields[k] = values
		}
	}
	e := store.Entry{ID: v.Field("id"), Supersedes: v.Field("supersedes"), Request: []byte(v.gin.Request.URL.Path + "?" + fields.Encode())}
	if v.Person != nil {
		e.Person = v.Person.ID
	}
	if ms, err := strconv.ParseInt(v.Field("device_at"), 10, 64); err == nil && ms > 0 {
		e.DeviceAt = time.UnixMilli(ms)
	}
	return e
}

// validID bounds ids made by clients.
func validID(id string) bool {
	if len(id) < 8 || len(id) > 64 {
		return false
	}
	for _, r := range id {
		if !('a' <= r && r <= 'z' || '0' <= r && r <= '9' || r == '-' || r == '.') {
			return false
		}
	}
	return true
}

// sender is the header by which the page's script says whose answer it sends:
// an answer that waited on a shared tablet is nobody else's.
const sender = "X-Vespers-Person"

// FieldsUnder are those whose names begin so, by the rest of their names.
func (v *Visit) FieldsUnder(prefix string) map[string]string {
	out := map[string]string{}
	v.Field("") // the form is read
	for name, values := range v.gin.Request.PostForm {
		if rest, ok := strings.CutPrefix(name, prefix); ok && len(values) > 0 {
			out[rest] = values[0]
		}
	}
	return out
}

// Say passes on what the form says. What comes of it is on disk; ok is false,
// and err what was refused, where nothing is.
func (v *Visit) Say(c yard.Command, more ...string) (store.Done, error) {
	if !validID(v.Field("id")) {
		return store.Done{}, ErrForm
	}
	if whose := v.gin.GetHeader(sender); whose != "" && v.Person != nil && whose != v.Person.ID {
		return store.Done{}, &Anothers{Person: whose}
	}
	e := v.entry()
	if v.part > 0 {
		e.ID += "." + strconv.Itoa(v.part)
	}
	for _, m := range more {
		e.Request = append(e.Request, m...)
	}
	return v.Site.Store.Do(v.Context(), e, c)
}

// SayNth is Say for one of several things that a form says, each under an id of its own.
func (v *Visit) SayNth(n int, c yard.Command) (store.Done, error) {
	v.part = n
	return v.Say(c)
}

// SayIn passes on something said in the outing of the address, and shows what
// was refused; ok is false then.
func (v *Visit) SayIn(c outing.Command, more ...string) (*outing.Outing, bool) {
	done, err := v.Say(yard.InOuting{Outing: v.Param("outing"), Command: c}, more...)
	if err != nil {
		v.Fail(err)
		return nil, false
	}
	return done.Outing, true
}

// SayParts is SayIn for a form that says several things, one after the other, each
// under an id of its own.
func (v *Visit) SayParts(parts []outing.Command) (o *outing.Outing, ok bool) {
	for i, c := range parts {
		v.part = i
		if o, ok = v.SayIn(c); !ok {
			return nil, false
		}
	}
	return o, ok
}

// SecondPIN asks for the PIN of a second person, which is in the form; where it is
// not theirs, the visit is answered and it reports false.
func (v *Visit) SecondPIN(person string) bool {
	_, right := v.TheirPIN(person)
	return right
}

// TheirPIN is SecondPIN with the number of their PIN, for a session of theirs.
func (v *Visit) TheirPIN(person string) (number int, right bool) {
	access, right, err := v.Site.Store.CheckPIN(v.Context(), person, v.Field("pin"), v.From())
	switch {
	case err != nil:
		v.Fail(err)
	case !right:
		v.Problem(http.StatusUnprocessableEntity, v.T("signin.wrong"), "")
	default:
		return access.Number, true
	}
	return 0, false
}

// Scripted reports whether the page's script sent this, rather than a form.
func (v *Visit) Scripted() bool {
	return strings.Contains(v.gin.GetHeader("Accept"), "application/json")
}

// Saved tells that an answer is on disk and where to go next.
func (v *Visit) Saved(next string) {
	if v.Scripted() {
		v.gin.JSON(http.StatusOK, map[string]any{"saved": true, "next": next})
		return
	}
	v.gin.Redirect(http.StatusSeeOther, next)
}

// Go leads to another page.
func (v *Visit) Go(to string) { v.gin.Redirect(http.StatusSeeOther, to) }

// Send answers with something that is not a page. Forever says that what is at
// this address never changes.
func (v *Visit) Send(kind string, data []byte, forever bool) {
	if forever {
		v.gin.Header("Cache-Control", "private, max-age=31536000, immutable")
	}
	v.gin.Data(http.StatusOK, kind, data)
}

// SendFile answers with a file that is kept under a name.
func (v *Visit) SendFile(kind, name string, data []byte) {
	v.gin.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	v.gin.Header("Cache-Control", "no-store")
	v.gin.Data(http.StatusOK, kind, data)
}
