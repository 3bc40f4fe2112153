package store_test

import (
	"compress/gzip"
	"database/sql"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"

	"vespers/core/outing"
	"vespers/store"
)

// Yards made by earlier editions of the program lie in testdata, packed. They
// are never made anew: what they say today they must say with every later
// program. "go test ./store -run History -write" writes the verdicts of a yard
// that was just added.
var writeVerdicts = flag.Bool("write", false, "write the verdicts of frozen yards that have none")

// editions lists the frozen yards.
func editions(t *testing.T) []string {
	t.Helper()
	files, err := filepath.Glob("testdata/*.vespers.gz")
	if err != nil || len(files) == 0 {
		t.Fatal("no frozen yards", err)
	}
	return files
}

// thaw unpacks a frozen yard.
func thaw(t *testing.T, packed string) string {
	t.Helper()
	f, err := os.Open(packed)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, err := gzip.NewReader(f)
	if err != nil {
		t.Fatal(err)
	}
	data, err := io.ReadAll(z)
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "yard.vespers")
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
	return path
}

// raw opens a file past the store.
func raw(t *testing.T, path string) *sql.DB {
	t.Helper()
	db, err := sql.Open("sqlite", path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	return db
}

// contents is what some columns of each table hold, in no order.
func contents(t *testing.T, db *sql.DB, columns map[string][]string) map[string][]string {
	t.Helper()
	out := map[string][]string{}
	for table, names := range columns {
		rows, err := db.Query("SELECT " + strings.Join(names, ", ") + " FROM " + table)
		if err != nil {
			t.Fatal(err)
		}
		for rows.Next() {
			values := make([]any, len(names))
			into := make([]any, len(names))
			for i := range values {
				into[i] = &values[i]
			}
			if err := rows.Scan(into...); err != nil {
				t.Fatal(err)
			}
			var line []string
			for i, v := range values {
				if b, ok := v.([]byte); ok {
					v = string(b)
				}
				line = append(line, fmt.Sprintf("%s=%v", names[i], cameLater.ReplaceAllString(fmt.Sprint(v), "")))
			}
			out[table] = append(out[table], strings.Join(line, " "))
		}
		if err := rows.Err(); err != nil {
			t.Fatal(err)
		}
		rows.Close()
		slices.Sort(out[table])
	}
	return out
}

// cameLater is what came into rows after a yard was frozen, on purpose: the record
// that each thing known of a person stands in.
var cameLater = regexp.MustCompile(`,"record":"[^"]*"`)

// shown are the columns of the tables that pages are made from, as a file has
// them.
func shown(t *testing.T, db *sql.DB) map[string][]string {
	t.Helper()
	out := map[string][]string{}
	for _, table := range store.ProjectedTables() {
		rows, err := db.Query("SELECT name FROM pragma_table_info(?)", table)
		if err != nil {
			t.Fatal(err)
		}
		for rows.Next() {
			var name string
			if err := rows.Scan(&name); err != nil {
				t.Fatal(err)
			}
			out[table] = append(out[table], name)
		}
		rows.Close()
		if len(out[table]) == 0 {
			delete(out, table) // a table that came later
		}
	}
	return out
}

// TestHistoryRebuilds: today's program makes the tables of an old yard anew as
// the program of that time had made them.
func TestHistoryRebuilds(t *testing.T) {
	for _, packed := range editions(t) {
		t.Run(filepath.Base(packed), func(t *testing.T) {
			path := thaw(t, packed)
			old := raw(t, path)
			columns := shown(t, old)
			before := contents(t, old, columns)
			old.Close()
			s := open(t, path)
			// The first has a sheet under a made-up hash, to have two editions of one;
			// nothing else may be wrong.
			r, err := s.Verify(ctx)
			wrong := slices.DeleteFunc(r.Problems, func(p string) bool { return strings.Contains(p, "sheet 0123456789abcdef") })
			if err != nil || len(wrong) > 0 {
				t.Errorf("%v: %v", err, wrong)
			}
			if err := s.Rebuild(ctx); err != nil {
				t.Fatal(err)
			}
			s.Close()
			after := contents(t, raw(t, path), columns)
			for table := range columns {
				if !slices.Equal(before[table], after[table]) {
					t.Errorf("%s was\n%s\nis\n%s", table, strings.Join(before[table], "\n"), strings.Join(after[table], "\n"))
				}
			}
		})
	}
}

// TestHistoryVerdicts: every outing of an old yard comes to what it came to.
func TestHistoryVerdicts(t *testing.T) {
	type verdict struct {
		Outing, Stage string
		Status        outing.Status
		Verdict       outing.Verdict // as released, else as it stood
		Judged        outing.Verdict // judged anew
		Defects       int
	}
	for _, packed := range editions(t) {
		t.Run(filepath.Base(packed), func(t *testing.T) {
			path := thaw(t, packed)
			db := raw(t, path)
			var ids []string
			rows, err := db.Query("SELECT DISTINCT outing FROM record WHERE outing<>'' ORDER BY outing")
			if err != nil {
				t.Fatal(err)
			}
			for rows.Next() {
				var id string
				if err := rows.Scan(&id); err != nil {
					t.Fatal(err)
				}
				ids = append(ids, id)
			}
			db.Close()
			s := open(t, path)
			var now []verdict
			for _, id := range ids {
				o, err := s.Outing(ctx, id)
				if err != nil {
					t.Fatal(err)
				}
				v := verdict{Outing: id, Stage: string(o.Stage()), Status: o.Status, Defects: len(o.Defects())}
				v.Verdict, v.Judged = o.Judge(o.Began), o.Judge(o.Began)
				if o.Verdict != nil {
					v.Verdict, v.Judged = *o.Verdict, o.Judge(o.Release.At)
				}
				now = append(now, v)
			}
			file := strings.TrimSuffix(packed, ".vespers.gz") + ".verdicts.json"
			data, err := json.MarshalIndent(now, "", " ")
			if err != nil {
				t.Fatal(err)
			}
			if _, err := os.Stat(file); err != nil && *writeVerdicts {
				if err := os.WriteFile(file, append(data, '\n'), 0o644); err != nil {
					t.Fatal(err)
				}
			}
			kept, err := os.ReadFile(file)
			if err != nil {
				t.Fatal(err)
			}
			var was, is any
			if err := json.Unmarshal(kept, &was); err != nil {
				t.Fatal(err)
			}
			if err := json.Unmarshal(data, &is); err != nil {
				t.Fatal(err)
			}
			if !reflect.DeepEqual(was, is) {
				t.Errorf("verdicts were\n%s\nare\n%s", kept, data)
			}
		})
	}
}
