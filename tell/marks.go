package tell

// Levels that are told apart by eye, in words.

import "vespers/say"

// Level is a place between two marks, in per cent of the way from the lower to
// the upper, as it is typed.
type Level struct{ Typed, Key string }

// Levels lists the places on a dipstick that can be told apart by eye.
func Levels() []Level {
	return []Level{{"125", "marks.above"}, {"100", "marks.full"}, {"75", "marks.three_quarters"}, {"50", "marks.half"}, {"25", "marks.quarter"}, {"0", "marks.low"}, {"-25", "marks.below"}}
}

// level is a level in words; ok is false where nobody could have told it by eye.
func level(v *say.Voice, typed string) (words string, ok bool) {
	for _, l := range Levels() {
		if l.Typed == typed {
			return v.T(l.Key), true
		}
	}
	return "", false
}
