package yard

// For how long pictures of findings are kept.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

// Pictures is for how long the pictures of a finding are kept after it is over, in
// months; 0 is always (house rule).
type Pictures struct {
	Months int `json:"months,omitempty"`
}

// picturesMost is the longest that a house may choose, in months.
const picturesMost = 120

// DropPictures drops the pictures that are older than the house keeps them.
type DropPictures struct{}

// Act implements Command.
func (DropPictures) Act() operator.Act { return operator.House }

// PicturesDropped are pictures that are kept no longer, by their hashes. What was found,
// and that there was a picture of it, stays.
type PicturesDropped struct {
	Hashes []string `json:"hashes"`
}

var _ = record.Register(PicturesDropped{})

// Kind implements record.Event.
func (PicturesDropped) Kind() string { return "pictures_dropped" }

var (
	rulePictures     = text.NewRule("house.pictures_months")
	ruleKeptAlways   = text.NewRule("house.pictures_always")
	ruleNoOldPicture = text.NewRule("house.pictures_none_old")
)

func (p Pictures) check() error {
	if p.Months < 0 || p.Months > picturesMost {
		return record.Refuse(rulePictures.Says())
	}
	return nil
}

// Until is before when a finding was over whose pictures are dropped; ok is false where
// they are kept always.
func (p Pictures) Until(now time.Time) (before time.Time, ok bool) {
	return now.AddDate(0, -p.Months, 0), p.Months > 0
}

func (DropPictures) decide(s speech) ([]Decided, error) {
	settings, _ := s.Settings()
	before, ok := settings.Pictures.Until(s.At)
	if !ok {
		return nil, record.Refuse(ruleKeptAlways.Says())
	}
	hashes := s.OldPictures(before)
	if len(hashes) == 0 {
		return nil, record.Refuse(ruleNoOldPicture.Says())
	}
	slices.SortFunc(hashes, strings.Compare)
	return just(PicturesDropped{Hashes: hashes}), nil
}
