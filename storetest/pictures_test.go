package storetest

import (
	"errors"
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
	"vespers/store"
)

// TestAPictureIsDropped: not while its defect is open or lately closed; then the picture
// goes and what it showed stays, the file is whole, and rebuilt all of it is the same.
func TestAPictureIsDropped(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	o := take(t, s, "seen", "tobias", "ostiary", "")
	if _, err := say(s, "seen-ready", "tobias", in(o.ID, outingtest.Next(o, *at))); err != nil {
		t.Fatal(err)
	}
	done, err := say(s, "seen-fault", "tobias", in(o.ID, outingtest.Fault("ostiary", "chute", "spring")))
	if err != nil {
		t.Fatal(err)
	}
	hash, err := s.AddPhoto(ctx, []byte("a picture"))
	if err != nil {
		t.Fatal(err)
	}
	finding := done.Outing.Defects()[0].ID
	if _, err := say(s, "seen-photo", "tobias", in(o.ID, outing.Note{Noted: inspect.Noted{Machine: "ostiary", Check: "chute", Finding: finding, Photo: hash}})); err != nil {
		t.Fatal(err)
	}
	y, err := s.Yard(ctx)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "keep-six", "maren", yard.NameYard{Name: y.Name, Timezone: y.Timezone, House: y.House, Practice: y.Practice, Emergency: y.Emergency, Places: y.Places, Pictures: yard.Pictures{Months: 6}}); err != nil {
		t.Fatal(err)
	}
	kept := func(when string) {
		t.Helper()
		if view, check := s.View(ctx); len(view.OldPictures(at.AddDate(0, -6, 0))) > 0 || check() != nil {
			t.Errorf("%s it is dropped", when)
		}
	}
	kept("while its outing is open")
	*at = at.AddDate(0, 8, 0)
	kept("while it is open")
	mend(t, s, at, "seen-mend", yard.BeginRepair{Defects: []string{finding}, Cause: "eye broken", Work: "new spring"})
	kept("lately mended")
	*at = at.AddDate(0, 7, 0)
	if _, err := say(s, "drop", "maren", yard.DropPictures{}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Photo(ctx, hash); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("it is still there: %v", err)
	}
	if when, err := s.PictureDropped(ctx, hash); err != nil || when.Sub(*at).Abs() > time.Minute {
		t.Errorf("dropped %v, %v", when, err)
	}
	if d, err := s.Defects(ctx, "ostiary", false); err != nil || len(d) == 0 {
		t.Errorf("the defect went with it: %v", err)
	}
	whole(t, s)
	old := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if again := projections(t, s); !equal(old, again) {
		t.Error("a rebuild shows another yard")
	}
	whole(t, s)
}

// TestAPictureOfAWalkIsDropped once it is as old as the house keeps pictures.
func TestAPictureOfAWalkIsDropped(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	hash, err := s.AddPhoto(ctx, []byte("a picture"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "walk-photo", "ines", yard.WalkZone{Zone: "pond_bank", Grass: "dry", Ground: "firm", Photo: hash}); err != nil {
		t.Fatal(err)
	}
	whole(t, s)
	old := func() int {
		t.Helper()
		view, check := s.View(ctx)
		n := len(view.OldPictures(at.AddDate(0, -6, 0)))
		if err := check(); err != nil {
			t.Fatal(err)
		}
		return n
	}
	if n := old(); n != 0 {
		t.Errorf("%d pictures are old on the day", n)
	}
	*at = at.AddDate(0, 7, 0)
	if n := old(); n != 1 {
		t.Errorf("%d pictures are old after seven months", n)
	}
}
