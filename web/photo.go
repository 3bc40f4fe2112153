package web

import (
	"errors"
	"net/http"
	"time"

	qrcode "github.com/skip2/go-qrcode"

	"vespers/core/outing"
	"vespers/draw"
	"vespers/photo"
	"vespers/store"
)

// photoRoute may be sent more than other addresses.
const photoRoute = "/outings/:outing/photo"

// note adds a picture, a note or both to a finding.
func (s *server) note(v *visit) {
	if err := v.gin.Request.ParseMultipartForm(1 << 20); err != nil {
		v.problem(http.StatusRequestEntityTooLarge, v.T("photo.too_large"), "")
		return
	}
	if !s.checkID(v) {
		return
	}
	e := v.entry()
	noted := outing.Noted{Machine: v.field("machine"), Check: v.field("check"), Item: v.field("item"), Finding: v.field("finding"), Note: v.field("note")}
	if len(noted.Note) > 500 {
		noted.Note = noted.Note[:500]
	}
	if file, _, err := v.gin.Request.FormFile("photo"); err == nil {
		defer file.Close()
		small, err := photo.Shrink(file)
		switch {
		case errors.Is(err, photo.ErrTooLarge):
			v.problem(http.StatusRequestEntityTooLarge, v.T("photo.too_large"), "")
			return
		case err != nil:
			v.problem(http.StatusUnprocessableEntity, v.T("photo.not_a_picture"), "")
			return
		}
		if noted.Photo, err = s.Store.AddPhoto(v.ctx(), small); err != nil {
			s.fail(v, err)
			return
		}
		e.Request = append(e.Request, noted.Photo...)
	}
	_, o, err := s.Store.Answer(v.ctx(), v.param("outing"), e, func(*outing.Outing, time.Time) (outing.Event, error) { return noted, nil })
	if err != nil {
		s.fail(v, err)
		return
	}
	phase := ""
	if c, ok := o.Unit(noted.Machine).Sheet.Check(noted.Check); ok {
		phase = string(c.Phase)
	}
	v.saved("/outings/" + o.ID + "/walk?machine=" + noted.Machine + "&point=" + noted.Check + "&item=" + noted.Item + "&phase=" + phase)
}

// showPhoto sends a picture. What its address says never changes.
func (s *server) showPhoto(v *visit) {
	body, err := s.Store.Photo(v.ctx(), v.param("photo"))
	if err != nil {
		s.fail(v, err)
		return
	}
	v.gin.Header("Cache-Control", "private, max-age=31536000, immutable")
	v.gin.Data(http.StatusOK, "image/jpeg", body)
}

// labelPage is a machine's label with the code that opens its page.
type labelPage struct {
	store.Machine
	Type  string
	Code  draw.Scene
	Where string
}

// showLabel is the label to be printed and put on the machine.
func (s *server) showLabel(v *visit) {
	m, sheet, err := s.Store.Described(v.ctx(), v.param("machine"))
	if err != nil {
		s.fail(v, err)
		return
	}
	scheme := "http"
	if s.Secure {
		scheme = "https"
	}
	page := labelPage{Machine: m, Type: v.Text(sheet.Name), Where: scheme + "://" + v.gin.Request.Host + "/machines/" + m.ID}
	code, err := qrcode.New(page.Where, qrcode.Medium)
	if err != nil {
		s.fail(v, err)
		return
	}
	page.Code = draw.Code(code.Bitmap())
	v.page(http.StatusOK, "label", m.Name, page)
}
