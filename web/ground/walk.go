package ground

// A zone found on foot, with a picture.

import (
	"errors"
	"net/http"

	"vespers/core/yard"
	"vespers/photo"
	"vespers/web/page"
)

// walk keeps how a zone was found. A picture that cannot be kept keeps nothing of it, and
// says so: what was ticked stands there still.
func walk(v *page.Visit) {
	if err := v.Multipart(); err != nil && !errors.Is(err, http.ErrNotMultipart) {
		v.Fail(photo.ErrTooLarge)
		return
	}
	c := yard.WalkZone{Zone: zone(v), Items: v.Fields("item"), Grass: v.Field("grass"), Ground: v.Field("ground"), Told: v.Field("told")}
	again := func(refused string) {
		if v.Scripted() {
			v.Problem(http.StatusConflict, refused, "")
			return
		}
		showZoneWith(v, http.StatusConflict, refused, nil)
	}
	var more []string
	if file := v.File("photo"); file != nil {
		defer file.Close()
		small, err := photo.Shrink(v.Context(), file)
		switch {
		case errors.Is(err, photo.ErrNotAPicture):
			again(v.T("photo.not_a_picture"))
			return
		case err != nil:
			v.Fail(err)
			return
		}
		if c.Photo, err = v.Site.Store.AddPhoto(v.Context(), small); err != nil {
			v.Fail(err)
			return
		}
		more = append(more, c.Photo)
	}
	_, err := v.Say(c, more...)
	if err == nil {
		v.Saved(home(v, "#walked"))
		return
	}
	words, refused := refusedWords(v, err)
	if !refused || v.Scripted() {
		v.Fail(err)
		return
	}
	again(words)
}
