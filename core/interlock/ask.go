package interlock

// Permit is the expression of a permit, or nil if there is none of that id.
func (l *Logic) Permit(id string) Expr {
	for _, p := range l.permits {
		if p.id == id {
			return p.when
		}
	}
	return nil
}

// Moving lists the drives that move with the controls as given, the engine
// running where it can.
func (l *Logic) Moving(positions map[string]bool) (drives []string) {
	x := l.StateOf(positions)
	for d, p := range l.drives {
		if l.happens(nil, d, x) {
			drives = append(drives, l.permits[p].id)
		}
	}
	return drives
}

// Runs reports whether the engine keeps running with the controls as given; a
// switch left out stands as at rest.
func (l *Logic) Runs(positions map[string]bool) bool {
	if l.run < 0 {
		return true
	}
	x := l.StateOf(positions)
	return l.permits[l.run].when.Eval(func(name string) bool { return x>>l.index(name)&1 == 1 })
}
