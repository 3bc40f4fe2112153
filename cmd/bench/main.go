// Command bench measures Vespers against its budgets (docs/architecture.md) and
// prints one table: what, the budget, what was measured. It makes the yards it
// measures on where they are not there yet; the large one takes a while.
package main

import (
	"bufio"
	"context"
	"crypto/sha256"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"runtime"
	"slices"
	"strings"
	"time"
	_ "time/tzdata"

	"vespers/catalogue"
	"vespers/demo"
	"vespers/store"
)

func main() {
	dir := flag.String("dir", os.TempDir(), "where the measured yards are kept between runs")
	days := flag.Int("days", demo.Large.Days, "working days of history of the large yard")
	flag.Parse()
	if err := run(context.Background(), *dir, *days); err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

func run(ctx context.Context, dir string, days int) error {
	small, err := yardFile(ctx, dir, max(1, days/100))
	if err != nil {
		return err
	}
	large, err := yardFile(ctx, dir, days)
	if err != nil {
		return err
	}
	fmt.Printf("Machine: %s, %d cores, %s\n", processor(), runtime.NumCPU(), runtime.Version())
	fmt.Printf("Large yard: %d machines, %d outings a day, %d days; small yard: %d days\n\n", demo.Large.Machines, demo.Large.OutingsADay, days, max(1, days/100))
	t := &table{}
	for _, measure := range []func() error{
		func() error { return planning(t) },
		func() error { return evenings(t) },
		func() error { return grounds(t) },
		func() error { return starting(t, large, "start on the large yard") },
		func() error { return kinds(ctx, t) },
		func() error { return pages(ctx, t, small, large) },
		func() error { return saving(ctx, t, large) },
		func() error { return muster(ctx, t, large) },
	} {
		if err := measure(); err != nil {
			return err
		}
	}
	if t.over > 0 {
		return fmt.Errorf("%d of the budgets are not kept", t.over)
	}
	return nil
}

// yardFile is a generated yard with so many days of history, made if needed.
func yardFile(ctx context.Context, dir string, days int) (string, error) {
	sheets, err := catalogue.All()
	if err != nil {
		return "", err
	}
	// A yard made from other sheets is not the same yard.
	all := sha256.New()
	for _, r := range sheets {
		io.WriteString(all, r.Hash)
	}
	path := fmt.Sprintf("%s/vespers-bench-%d-%x", dir, days, all.Sum(nil)[:4])
	if _, err := os.Stat(path); err == nil {
		return path, nil
	} else if !errors.Is(err, os.ErrNotExist) {
		return "", err
	}
	fmt.Fprintf(os.Stderr, "making %s\n", path)
	partial := path + ".partial"
	for _, suffix := range []string{"", "-wal", "-shm"} {
		os.Remove(partial + suffix)
	}
	s, err := store.Open(ctx, partial)
	if err != nil {
		return "", err
	}
	for _, r := range sheets {
		if err := s.AddSheet(ctx, r); err != nil {
			return "", errors.Join(err, s.Close())
		}
	}
	size := demo.Large
	size.Days = days
	err = demo.Generate(ctx, s, size, time.Now(), func(day int) { fmt.Fprintf(os.Stderr, "\r%d of %d days", day, days) })
	fmt.Fprintln(os.Stderr)
	if err := errors.Join(err, s.Close()); err != nil {
		return "", err
	}
	return path, os.Rename(partial, path)
}

// table prints what was measured beside what was allowed.
type table struct{ over int }

func (t *table) row(what, budget, measured string, kept bool) {
	mark := "kept"
	if !kept {
		mark = "OVER"
		t.over++
	}
	fmt.Printf("%-58s %-22s %-34s %s\n", what, budget, measured, mark)
}

// note prints a figure that has no budget.
func (t *table) note(what, measured string) {
	fmt.Printf("%-58s %-22s %s\n", what, "", measured)
}

// times are how long something took, run by run.
type times []time.Duration

func (t times) at(share float64) time.Duration {
	sorted := slices.Clone(t)
	slices.Sort(sorted)
	return sorted[min(len(sorted)-1, int(share*float64(len(sorted))))]
}

func (t times) median() time.Duration { return t.at(0.5) }
func (t times) p95() time.Duration    { return t.at(0.95) }

func (t times) sum() (all time.Duration) {
	for _, d := range t {
		all += d
	}
	return all
}

func ms(d time.Duration) string { return fmt.Sprintf("%.2f ms", float64(d.Microseconds())/1000) }

func processor() string {
	f, err := os.Open("/proc/cpuinfo")
	if err != nil {
		return runtime.GOARCH
	}
	defer f.Close()
	for lines := bufio.NewScanner(f); lines.Scan(); {
		if name, value, ok := strings.Cut(lines.Text(), ":"); ok && strings.HasPrefix(name, "model name") {
			return strings.TrimSpace(value)
		}
	}
	return runtime.GOARCH
}
