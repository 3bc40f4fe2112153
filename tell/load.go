package tell

// What a load sheet comes to, part by part: what was judged, what stands against it, and the
// smallest change that mends it.

import (
	"vespers/core/ground"
	"vespers/core/yard"
	"vespers/say"
)

// LoadPart is a part of a load sheet: ramp, bridge, tow or straps.
type LoadPart struct {
	ID, Name, Answer string
	Will             bool
	Words, Mend      []string
}

// Load tells the parts of a load sheet that were filled in.
func Load(v *say.Voice, e yard.LoadChecked) (out []LoadPart) {
	j := e.Judge()
	if j.Ramp != nil {
		out = append(out, loadRamp(v, e.Ramp, j.Ramp))
	}
	if j.Bridge != nil {
		out = append(out, loadBridge(v, e.Bridge, j.Bridge))
	}
	if j.Tow != nil {
		out = append(out, loadTow(v, e.Tow, j.Tow))
	}
	if j.Straps != nil {
		out = append(out, loadStraps(v, j.Straps))
	}
	return out
}

// loadPart begins a part with what stands against it.
func loadPart(v *say.Voice, id string, because []string) LoadPart {
	p := LoadPart{ID: id, Name: v.T("load.part." + id), Will: len(because) == 0, Answer: v.T("load.will_do")}
	if !p.Will {
		p.Answer = v.T("load.will_not")
	}
	for _, b := range because {
		p.Words = append(p.Words, v.T("load.because."+b))
	}
	return p
}

func loadRamp(v *say.Voice, e *yard.LoadRamp, r *ground.Ramped) LoadPart {
	p := loadPart(v, "ramp", r.Because)
	p.Words = append(p.Words, v.T("load.ramp", "deg", Degrees(v, r.Worst), "limit", Degrees(v, e.Limit), "width", Metres(v, e.Width.Value)))
	for _, because := range r.Because {
		switch {
		case because == "angle" && r.NeededLength != nil:
			p.Mend = append(p.Mend, v.T("load.mend.angle", "length", MetresUp(v, *r.NeededLength), "more", MetresUp(v, *r.NeededLength-e.Length.Value)))
		case because == "angle":
			p.Mend = append(p.Mend, v.T("load.mend.no_ramp"))
		default:
			p.Mend = append(p.Mend, v.T("load.mend.width", "width", MetresUp(v, r.NeededWidth)))
		}
	}
	return p
}

func loadBridge(v *say.Voice, e *yard.LoadBridge, b *ground.Bridged) LoadPart {
	p := loadPart(v, "bridge", b.Because)
	words := v.T("load.no_bridge_words", "needs", Metres(v, b.Needs), "legal", Metres(v, e.Legal))
	if b.Lowest != nil {
		words = v.T("load.bridge", "needs", Metres(v, b.Needs), "lowest", Metres(v, *b.Lowest), "legal", Metres(v, e.Legal))
	}
	p.Words = append(p.Words, words)
	if !p.Will {
		p.Mend = append(p.Mend, v.T("load.mend.height", "less", MetresUp(v, -b.Margin)))
	}
	return p
}

func loadTow(v *say.Voice, e *yard.LoadTow, t *ground.Towed) LoadPart {
	p := loadPart(v, "tow", t.Because)
	p.Words = append(p.Words, v.T("load.tow", "mass", Kilograms(v, t.Mass), "gross", Kilograms(v, e.Gross), "rating", Kilograms(v, e.Rating)))
	if t.Shares != nil {
		p.Words = append(p.Words, v.T("ground.tongue", "low", v.Number(100*t.Shares[0], 1), "high", v.Number(100*t.Shares[1], 1)))
	}
	for _, because := range t.Because {
		args := []any{}
		switch because {
		case "gross":
			args = append(args, "less", KilogramsUp(v, -t.GrossMargin))
		case "rating":
			args = append(args, "less", KilogramsUp(v, -t.RatingMargin))
		case "tongue_low", "tongue_high":
			if t.Press[0]+1 > t.Press[1] {
				because = "tongue_unsure"
			}
			args = append(args, "low", KilogramsUp(v, t.Press[0]), "high", KilogramsDown(v, t.Press[1]))
		}
		p.Mend = append(p.Mend, v.T("load.mend."+because, args...))
	}
	return p
}

func loadStraps(v *say.Voice, s *ground.Strapped) LoadPart {
	p := loadPart(v, "straps", s.Because)
	p.Words = append(p.Words, v.T("load.straps", "counts", Kilograms(v, s.Counts), "needed", Kilograms(v, s.Needed), "front", s.Front, "rear", s.Rear))
	for _, because := range s.Because {
		p.Mend = append(p.Mend, v.T("load.mend."+because, "more", KilogramsUp(v, s.Needed-s.Counts)))
	}
	return p
}
