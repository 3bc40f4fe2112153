package day

// The page on which a lead says that the clock is right again.

import (
	"vespers/core/yard"
	"vespers/web/page"
)

// endWrongClock takes a lead's word that the clock is right again.
func endWrongClock(v *page.Visit) {
	if _, err := v.Say(yard.EndWrongClock{Reason: v.Field("reason")}); err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/day")
}
