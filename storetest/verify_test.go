package storetest

import (
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"vespers/core/yard"
	"vespers/demo"
	"vespers/store"

	_ "modernc.org/sqlite"
)

// raw does something to a yard's file behind the program's back.
func raw(t *testing.T, path string, queries ...string) {
	t.Helper()
	db, err := sql.Open("sqlite", path)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, q := range queries {
		if _, err := db.Exec(q); err != nil {
			t.Fatalf("%s: %v", q, err)
		}
	}
}

// shut is a whole demo yard that nobody has open.
func shut(t *testing.T) string {
	t.Helper()
	s, path := wrenfield(t)
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	return path
}

const loose = "DROP TRIGGER record_never_changes; DROP TRIGGER record_never_goes"

// TestVerifyFinds whatever is changed behind the program's back.
func TestVerifyFinds(t *testing.T) {
	for name, c := range map[string]struct{ change, says string }{
		"who said it":                   {"UPDATE record SET person='tobias' WHERE seq=40", "record 40"},
		"when":                          {"UPDATE record SET server_at=server_at+1 WHERE seq=40", "record 40"},
		"what":                          {"UPDATE record SET body=CAST(replace(CAST(body AS TEXT), 'sound', 'fault') AS BLOB) WHERE seq=(SELECT min(seq) FROM record WHERE CAST(body AS TEXT) LIKE '%sound%')", "was changed"},
		"its format":                    {"UPDATE record SET format=1 WHERE seq=40", "record 40"},
		"a record out of the middle":    {"DELETE FROM record WHERE seq=40", "record 41"},
		"the end":                       {"DELETE FROM record WHERE seq>(SELECT max(seq)-3 FROM record)", "its end is gone"},
		"all of it":                     {"DELETE FROM record", "there are no records"},
		"a grade":                       {"UPDATE defect SET grade='watch' WHERE grade='halt'", "defect is not what the records say"},
		"a machine that was on Halt":    {"UPDATE machine SET grade='sound' WHERE grade='halt'", "machine is not what the records say"},
		"a defect closed":               {"UPDATE defect SET status='closed'", "defect is not what the records say"},
		"a defect gone":                 {"DELETE FROM defect", "defect is not what the records say"},
		"a role":                        {"UPDATE person SET role='lead' WHERE id='jonah'", "person is not what the records say"},
		"somebody who has left":         {"UPDATE person SET left_on=1 WHERE id='jonah'", "person is not what the records say"},
		"the hour meter":                {"UPDATE machine SET hours=hours-10 WHERE id='verger'", "machine is not what the records say"},
		"a sheet":                       {"UPDATE sheet SET body=CAST(replace(CAST(body AS TEXT), '2026-', '2029-') AS BLOB)", "was changed"},
		"a sheet gone":                  {"DELETE FROM sheet WHERE hash=(SELECT sheet FROM machine LIMIT 1)", "which records name, is gone"},
		"a PIN swapped for one's own":   {"UPDATE credential SET hash=(SELECT hash FROM credential WHERE person='jonah') WHERE person='maren'", "the PIN of maren is another than was set"},
		"a PIN for somebody made up":    {"INSERT INTO credential (person, hash) SELECT 'ghost', hash FROM credential LIMIT 1", "no record set"},
		"a PIN gone":                    {"DELETE FROM credential WHERE person='ruth'", "the PIN of ruth is gone"},
		"the projections' own triggers": {"UPDATE outing SET status='ended'", "outing is not what the records say"},
	} {
		t.Run(name, func(t *testing.T) {
			path := shut(t)
			raw(t, path, loose, c.change)
			before := listing(t, path)
			r, err := store.Verify(ctx, path, nil)
			if err != nil {
				t.Fatal(err)
			}
			if !strings.Contains(strings.Join(r.Problems, "\n"), c.says) {
				t.Errorf("%q, want %q", r.Problems, c.says)
			}
			if after := listing(t, path); after != before {
				t.Errorf("verifying changed the folder:\n%s\n%s", before, after)
			}
		})
	}
}

// listing is what lies beside a file, and how long it is.
func listing(t *testing.T, path string) string {
	t.Helper()
	entries, err := os.ReadDir(filepath.Dir(path))
	if err != nil {
		t.Fatal(err)
	}
	var out strings.Builder
	for _, e := range entries {
		data, err := os.ReadFile(filepath.Join(filepath.Dir(path), e.Name()))
		if err != nil {
			t.Fatal(err)
		}
		out.WriteString(e.Name() + " " + string(rune(len(data))) + "\n")
	}
	return out.String()
}

// TestVerifyFindsNothing on a whole yard, open or shut.
func TestVerifyFindsNothing(t *testing.T) {
	s, path := wrenfield(t)
	if _, err := say(s, "own", "ines", own); err != nil {
		t.Fatal(err)
	}
	whole(t, s)
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	r, err := store.Verify(ctx, path, nil)
	if err != nil || len(r.Problems) > 0 || len(r.Notes) > 0 {
		t.Errorf("%v %v %v", err, r.Problems, r.Notes)
	}
	a, err := store.ParseAnchor(r.Anchor)
	if err != nil || a.Seq != r.Records {
		t.Errorf("anchor %q of %d records: %v", r.Anchor, r.Records, err)
	}
}

// TestACutOffEnd is seen by an anchor that was kept elsewhere, also where the
// one beside the file went with it.
func TestACutOffEnd(t *testing.T) {
	path := shut(t)
	whole, err := store.Verify(ctx, path, nil)
	if err != nil {
		t.Fatal(err)
	}
	printed, err := store.ParseAnchor(whole.Anchor)
	if err != nil {
		t.Fatal(err)
	}
	raw(t, path, loose, "DELETE FROM record WHERE seq=(SELECT max(seq) FROM record)")
	if err := os.Remove(path + ".anchor"); err != nil {
		t.Fatal(err)
	}
	unseen, err := store.Verify(ctx, path, nil)
	if err != nil || len(unseen.Notes) == 0 {
		t.Errorf("no anchor at all is not said: %v %v", unseen.Notes, err)
	}
	seen, err := store.Verify(ctx, path, &printed)
	if err != nil || !strings.Contains(strings.Join(seen.Problems, "\n"), "the anchor you gave says") {
		t.Errorf("%v %v", seen.Problems, err)
	}
	other := printed
	other.Seq--
	if r, err := store.Verify(ctx, path, &other); err != nil || !strings.Contains(strings.Join(r.Problems, "\n"), "is another than the anchor you gave says") {
		t.Errorf("another hash: %v %v", r.Problems, err)
	}
	for _, bad := range []string{"", "12", "x-0123456789abcdef", "12-xyz", "12-0123", "-1-0123456789abcdef"} {
		if _, err := store.ParseAnchor(bad); err == nil {
			t.Errorf("%q is an anchor", bad)
		}
	}
}

// TestAJournalThatWasRemoved takes the last records with it; the anchor tells.
func TestAJournalThatWasRemoved(t *testing.T) {
	s, path := wrenfield(t)
	for _, id := range []string{"j-1", "j-2", "j-3"} {
		if _, err := say(s, id, "ines", own); err != nil {
			t.Fatal(err)
		}
	}
	anchor, err := s.Anchor(ctx)
	if err != nil {
		t.Fatal(err)
	}
	// What a crash leaves: the file, its journal apart.
	data, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	crashed := filepath.Join(t.TempDir(), "yard.vespers")
	if err := os.WriteFile(crashed, data, 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(crashed+".anchor", []byte(anchor.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	r, err := store.Verify(ctx, crashed, nil)
	if err != nil || !strings.Contains(strings.Join(r.Problems, "\n"), "its end is gone") {
		t.Errorf("%v %v", r.Problems, err)
	}
}

// TestACutOffEndIsNotPaintedOver: who opens the file and goes on working does
// not make the next anchor hide what is gone.
func TestACutOffEndIsNotPaintedOver(t *testing.T) {
	path := shut(t)
	raw(t, path, loose, "DELETE FROM record WHERE seq>(SELECT max(seq)-3 FROM record)")
	s := open(t, path)
	if s.Cut() == "" {
		t.Error("nothing is said of the end that is gone")
	}
	for n := range 5 {
		if _, err := say(s, fmt.Sprintf("on-%d", n), "ines", own); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	r, err := store.Verify(ctx, path, nil)
	if err != nil || !strings.Contains(strings.Join(r.Problems, "\n"), "put aside") {
		t.Errorf("%v %v", r.Problems, err)
	}
}

// TestABackupSignsNobodyIn, and nobody else may read it.
func TestABackupSignsNobodyIn(t *testing.T) {
	s, path := wrenfield(t)
	if _, err := s.Sessions().ExecContext(ctx, "INSERT INTO sessions (token, data, expiry) VALUES ('one', x'00', 9e9)"); err != nil {
		t.Fatal(err)
	}
	to := filepath.Join(t.TempDir(), "copy")
	a, err := s.Backup(ctx, to)
	if err != nil {
		t.Fatal(err)
	}
	for _, file := range []string{path, to, to + ".anchor"} {
		info, err := os.Stat(file)
		if err != nil {
			t.Fatal(err)
		}
		if info.Mode().Perm() != 0o600 {
			t.Errorf("%s is %v", filepath.Base(file), info.Mode())
		}
	}
	b := open(t, to)
	var sessions int
	if err := b.Sessions().QueryRowContext(ctx, "SELECT count(*) FROM sessions").Scan(&sessions); err != nil || sessions != 0 {
		t.Errorf("%d sessions, %v", sessions, err)
	}
	if now, err := b.Anchor(ctx); err != nil || now != a {
		t.Errorf("the backup ends at %s, its anchor says %s: %v", now, a, err)
	}
	if data, err := os.ReadFile(to); err != nil || strings.Contains(string(data), "sessionsone") {
		t.Error("the session is still in the backup's pages")
	}
	if _, ok, err := b.CheckPIN(ctx, "maren", demo.PINs()["maren"], store.From{Device: "d", Address: "a"}); err != nil || !ok {
		t.Errorf("nobody can sign in from a backup: %v", err)
	}
}

// TestMeterCorrectedDown: the current reading counts, and a record mends it.
func TestMeterCorrectedDown(t *testing.T) {
	s, _ := wrenfield(t)
	m, err := s.Machine(ctx, "precentor")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "meter", "maren", yard.SetMeter{Machine: "precentor", Hours: "10", Reason: "The glass was read wrongly"}); err != nil {
		t.Fatal(err)
	}
	now, err := s.Machine(ctx, "precentor")
	if err != nil || now.Hours != 10 {
		t.Errorf("%v hours, %v", now.Hours, err)
	}
	if m.Deadline.Hours != nil && now.Deadline.Hours != nil && *now.Deadline.Hours-10 != *m.Deadline.Hours-m.Hours {
		t.Errorf("the deadline at %v did not follow the meter: %v", *m.Deadline.Hours, *now.Deadline.Hours)
	}
	whole(t, s)
}
