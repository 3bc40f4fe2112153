package outings

// Pictures and notes of a finding.

import (
	"errors"
	"html"
	"net/http"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/outing"
	"vespers/photo"
	"vespers/store"
	"vespers/web/page"
)

// note adds a picture, a note or both to a finding. A picture that may not be
// added is not looked at.
func note(v *page.Visit) {
	if err := v.Multipart(); err != nil {
		v.Fail(photo.ErrTooLarge)
		return
	}
	n := inspect.Noted{Machine: v.Field("machine"), Check: v.Field("check"), Item: v.Field("item"), Finding: v.Field("finding"), Note: v.Field("note")}
	if file := v.File("photo"); file != nil {
		defer file.Close()
		small, err := photo.Shrink(v.Context(), file)
		switch {
		case errors.Is(err, photo.ErrNotAPicture):
			v.Problem(http.StatusUnprocessableEntity, v.T("photo.not_a_picture"), "")
			return
		case err != nil:
			v.Fail(err)
			return
		}
		if n.Photo, err = v.Site.Store.AddPhoto(v.Context(), small); err != nil {
			v.Fail(err)
			return
		}
	}
	if o, ok := v.SayIn(outing.Note{Noted: n}, n.Photo); ok {
		v.Saved(pointPath(o, n.Machine, n.Check, n.Item))
	}
}

// showPhoto sends a picture. What its address says never changes; of one that is kept no
// longer it is said since when.
func showPhoto(v *page.Visit) {
	body, err := v.Site.Store.Photo(v.Context(), v.Param("photo"))
	if at, dropped := v.Site.Store.PictureDropped(v.Context(), v.Param("photo")); errors.Is(err, store.ErrNotFound) && dropped == nil {
		words := html.EscapeString(v.T("photo.dropped", "day", v.Day(at)))
		v.Send("image/svg+xml", []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 480 80" width="480" height="80"><title>`+words+
			`</title><text x="12" y="46" font-family="sans-serif" font-size="18" fill="#666">`+words+`</text></svg>`), false)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Send("image/jpeg", body, true)
}

// worsen takes an operator's word that a finding is worse than the rules make it.
func worsen(v *page.Visit) {
	say(v, outing.Worsen{Worsened: inspect.Worsened{Machine: v.Field("machine"), Check: v.Field("check"), Item: v.Field("item"), Finding: v.Field("finding"),
		Grade: defect.Grade(v.Field("grade")), Why: v.Field("why")}})
}
