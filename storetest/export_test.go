package storetest

import (
	"bytes"
	"path/filepath"
	"strings"
	"testing"

	"vespers/core/outing"
	"vespers/store"
)

// TestAYardTakenAway and made anew of its lines is the same yard: pages, verdicts, chain.
func TestAYardTakenAway(t *testing.T) {
	s, _ := wrenfield(t)
	var lines bytes.Buffer
	if err := s.Export(ctx, &lines, true); err != nil {
		t.Fatal(err)
	}
	text := lines.String()
	path := filepath.Join(t.TempDir(), "yard")
	n, end, err := store.Import(ctx, path, strings.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	if anchor, err := s.Anchor(ctx); err != nil || anchor != end || n == 0 {
		t.Errorf("%d records, to %s, not %s; %v", n, end, anchor, err)
	}
	if report, err := store.Verify(ctx, path, &end); err != nil || len(report.Problems) > 0 {
		t.Errorf("%v %v", report.Problems, err)
	}
	again := open(t, path)
	if !equal(projections(t, s), projections(t, again)) {
		t.Error("pages would show another yard")
	}
	for _, id := range outings(t, s) {
		a, b := judged(t, s, id), judged(t, again, id)
		if !equal(a, b) {
			t.Errorf("%s: another verdict", id)
		}
	}
	if _, _, err := store.Import(ctx, path, strings.NewReader(text)); err == nil || !strings.Contains(err.Error(), "exists") {
		t.Errorf("into a file that is there: %v", err)
	}
	var bare bytes.Buffer
	if err := s.Export(ctx, &bare, false); err != nil || strings.Contains(bare.String(), "argon2id") || strings.Contains(bare.String(), `"type":"pin"`) {
		t.Errorf("a PIN goes along: %v", err)
	}
}

// TestLinesThatDoNotFit are refused, and leave no file.
func TestLinesThatDoNotFit(t *testing.T) {
	s, _ := wrenfield(t)
	var lines bytes.Buffer
	if err := s.Export(ctx, &lines, false); err != nil {
		t.Fatal(err)
	}
	all := strings.SplitAfter(lines.String(), "\n")
	first := 0
	for !strings.Contains(all[first], `"type":"record"`) {
		first++
	}
	change := func(do func(list []string) []string) string { return strings.Join(do(append([]string{}, all...)), "") }
	for name, c := range map[string]struct{ text, says string }{
		"nothing":          {"", "no head"},
		"no head":          {change(func(l []string) []string { return l[1:] }), "head has to come first"},
		"another format":   {change(func(l []string) []string { l[0] = strings.Replace(l[0], "export/1", "export/9", 1); return l }), "format"},
		"a record missing": {change(func(l []string) []string { return append(l[:first+3:first+3], l[first+4:]...) }), "does not fit"},
		"a body changed":   {change(func(l []string) []string { l[first] = strings.Replace(l[first], "Wrenfield", "Wrenfeld", 1); return l }), "does not fit"},
		"the end cut off":  {change(func(l []string) []string { return l[:len(l)-2] }), "some are missing"},
		"half a line":      {change(func(l []string) []string { l[first+2] = l[first+2][:40] + "\n"; return l }), "line "},
		"another type":     {change(func(l []string) []string { l[first] = `{"type":"joke"}` + "\n"; return l }), "joke"},
	} {
		t.Run(name, func(t *testing.T) {
			dir := t.TempDir()
			if _, _, err := store.Import(ctx, filepath.Join(dir, "yard"), strings.NewReader(c.text)); err == nil || !strings.Contains(err.Error(), c.says) {
				t.Errorf("%v, want %q", err, c.says)
			}
			if left := listing(t, filepath.Join(dir, "yard")); left != "" {
				t.Errorf("left behind: %s", left)
			}
		})
	}
}

// outings lists the outings of every machine.
func outings(t *testing.T, s *store.Store) (ids []string) {
	t.Helper()
	machines, err := s.Machines(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, m := range machines {
		past, err := s.Past(ctx, m.ID, 50)
		if err != nil {
			t.Fatal(err)
		}
		for _, o := range past {
			ids = append(ids, o.ID)
		}
	}
	return ids
}

// judged is the verdict of an outing at the end of its day.
func judged(t *testing.T, s *store.Store, id string) outing.Verdict {
	t.Helper()
	o, err := s.Outing(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	return o.Judge(o.Began)
}
