package yard_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/yard"
)

// TestOldPicturesAreDropped: by a lead, only what is older than the house keeps them, and
// nothing where they are kept always.
func TestOldPicturesAreDropped(t *testing.T) {
	w := newTown(t)
	settings, _ := w.Settings()
	keep := func(months int) yard.NameYard {
		return yard.NameYard{Name: settings.Name, Timezone: settings.Timezone, House: settings.House, Pictures: yard.Pictures{Months: months}}
	}
	w.pictures = map[string]time.Time{"old": w.at.AddDate(0, -7, 0), "older": w.at.AddDate(-2, 0, 0), "new": w.at.AddDate(0, -5, 0)}
	w.refused("maren", yard.DropPictures{}, "house.pictures_always")
	for _, months := range []int{-1, 121} {
		w.refused("maren", keep(months), "house.pictures_months")
	}
	w.must("maren", keep(6))
	for _, who := range []string{"ida", "ruth", "jonah", "osk"} {
		w.refused(who, yard.DropPictures{}, "who.not_your_role")
	}
	w.must("maren", yard.DropPictures{})
	if e := w.said[0].Event.(yard.PicturesDropped); !slices.Equal(e.Hashes, []string{"old", "older"}) {
		t.Errorf("dropped %v", e.Hashes)
	}
	delete(w.pictures, "old")
	delete(w.pictures, "older")
	w.refused("maren", yard.DropPictures{}, "house.pictures_none_old")
}
