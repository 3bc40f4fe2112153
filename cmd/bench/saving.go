package main

// Measures of the store: answers saved, a large yard opened and rebuilt.

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"time"

	_ "modernc.org/sqlite"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/store"
)

// saving answers whole outings of the large yard: first through its pages, as a
// tablet would; then straight into the store, where beside every answer the
// same record is committed to a bare SQLite file as durably, so that both meet
// the same disk at the same moment.
func saving(ctx context.Context, t *table, large string) error {
	c, done, err := openCopy(ctx, large)
	if err != nil {
		return err
	}
	defer done()
	var pages times
	err = answers(ctx, c, 10, func(o *outing.Outing, id string, said outing.Command) error {
		path, form := asForm(said)
		form.Set("id", id)
		began := time.Now()
		w := c.send("POST", "/outings/"+o.ID+path, form)
		pages = append(pages, time.Since(began))
		if w.Code != http.StatusOK {
			return fmt.Errorf("%s %v: %d %s", path, form, w.Code, w.Body)
		}
		return nil
	})
	if err != nil {
		return err
	}
	t.row(fmt.Sprintf("saving an answer through its page, %d answers, p95", len(pages)), "15 ms", ms(pages.p95())+", median "+ms(pages.median()), pages.p95() <= 15*time.Millisecond)

	bare, err := bareFile(filepath.Dir(large))
	if err != nil {
		return err
	}
	defer os.Remove(bare.path)
	defer bare.db.Close()
	var ours, theirs times
	err = answers(ctx, c, 20, func(o *outing.Outing, id string, said outing.Command) error {
		began := time.Now()
		done, err := c.store.Do(ctx, store.Entry{ID: id, Person: "lead"}, yard.InOuting{Outing: o.ID, Command: said})
		ours = append(ours, time.Since(began))
		if err != nil {
			return err
		}
		took, err := bare.commit(done.Record)
		theirs = append(theirs, took)
		return err
	})
	if err != nil {
		return err
	}
	ratio := float64(theirs.sum()) / float64(ours.sum())
	perSecond := func(all times) float64 { return float64(len(all)) / all.sum().Seconds() }
	t.row(fmt.Sprintf("rate of %d answers against bare durable commits", len(ours)), "0.5 ×", fmt.Sprintf("%.2f × (%.0f/s against %.0f/s)", ratio, perSecond(ours), perSecond(theirs)), ratio >= 0.5)
	return nil
}

// answers takes out machines one after the other and gives every answer of
// their outings, in order, to give.
func answers(ctx context.Context, c *client, outings int, give func(o *outing.Outing, id string, c outing.Command) error) error {
	run := strconv.FormatInt(time.Now().UnixNano(), 36)
	for n := range outings {
		id := fmt.Sprintf("bench%s%d", run, n)
		machine, err := freeMachine(ctx, c)
		if err != nil {
			return err
		}
		if w := c.send("POST", "/machines/"+machine+"/outing", url.Values{"id": {id}, "both": {"yes"}}); w.Code != http.StatusOK {
			return fmt.Errorf("taking out %s: %d %s", machine, w.Code, w.Body)
		}
		for i := 0; ; i++ {
			o, err := c.store.Outing(ctx, "o-"+id)
			if err != nil {
				return err
			}
			said := outingtest.Next(o, time.Now())
			if now := time.Now(); said == nil || outingtest.Wait(o, now).After(now) {
				break // at the verdict, or while an engine warms up
			}
			if err := give(o, fmt.Sprintf("%s-%d", id, i), said); err != nil {
				return err
			}
		}
		if err := leaveOpen(ctx, c, id); err != nil {
			return err
		}
		if w := c.send("POST", "/outings/o-"+id+"/end", url.Values{"id": {id + "-end"}}); w.Code != http.StatusOK {
			return fmt.Errorf("ending: %d", w.Code)
		}
	}
	return nil
}

// leaveOpen leaves the procedures that wait: with one open nothing is given up.
func leaveOpen(ctx context.Context, c *client, id string) error {
	o, err := c.store.Outing(ctx, "o-"+id)
	if err != nil {
		return err
	}
	for _, u := range o.Units {
		run := u.Running(record.Meta{At: time.Now()})
		if run == "" {
			continue
		}
		if w := c.send("POST", "/outings/"+o.ID+"/do/leave", url.Values{"id": {id + "-leave"}, "machine": {u.Machine}, "procedure": {run}}); w.Code != http.StatusOK {
			return fmt.Errorf("leaving %s: %d", run, w.Code)
		}
	}
	return nil
}

// openCopy opens a copy to write to; done closes it and takes it away.
func openCopy(ctx context.Context, file string) (c *client, done func(), err error) {
	copied, err := copyOf(file)
	if err != nil {
		return nil, nil, err
	}
	if c, err = open(ctx, copied); err != nil {
		return nil, nil, errors.Join(err, os.Remove(copied))
	}
	return c, func() { c.close(); os.Remove(copied) }, nil
}

// copyOf is a copy to write to: the yard itself is measured again another time.
func copyOf(file string) (string, error) {
	from, err := os.Open(file)
	if err != nil {
		return "", err
	}
	defer from.Close()
	for _, left := range []string{"-wal", "-shm"} { // of a run that was cut off: another file's
		if err := os.Remove(file + ".copy" + left); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return "", err
		}
	}
	to, err := os.Create(file + ".copy")
	if err != nil {
		return "", err
	}
	_, err = io.Copy(to, from)
	return to.Name(), errors.Join(err, to.Close())
}

// freeMachine is one that may go out now.
func freeMachine(ctx context.Context, c *client) (string, error) {
	all, err := c.store.Machines(ctx)
	if err != nil {
		return "", err
	}
	for _, m := range all {
		if m.Out == nil && m.Grade == "sound" {
			return m.ID, nil
		}
	}
	return "", fmt.Errorf("no machine is free")
}

// asForm is a command as the page sends it.
func asForm(c outing.Command) (path string, form url.Values) {
	switch c := c.(type) {
	case outing.Ready:
		form := url.Values{"fit": {c.Fit}, "shown": c.Shown, "worn": c.Worn, "clear_of": c.ClearOf, "check_in": {c.CheckIn}, "company": {c.Company}}
		for id, ways := range c.Options {
			for option, way := range ways {
				form.Set("option["+id+"."+option+"]", way)
			}
		}
		return "/ready", form
	case outing.ChangeSetting:
		return "/set", url.Values{"machine": {c.Machine}, "setting": {c.Setting}, "to": {c.To}}
	case outing.Answer:
		return "/answer", url.Values{"machine": {c.Machine}, "check": {c.Check}, "item": {c.Item}, "answer": {c.Answer.Answer}, "typed": {c.Typed}, "unit": {c.Unit}}
	case outing.BeginProcedure:
		return "/do/begin", url.Values{"machine": {c.Machine}, "procedure": {c.Procedure}}
	case outing.AnswerStep:
		return "/do/answer", url.Values{"machine": {c.Machine}, "procedure": {c.Procedure}, "step": {c.Step}, "answer": {c.Answer}}
	case outing.Crank:
		return "/crank", url.Values{"machine": {c.Machine}, "attempt": {strconv.Itoa(c.Attempt)}, "did": {c.Did}}
	case outing.BeginRound:
		return "/round", url.Values{"machine": {c.Machine}, "attempt": {strconv.Itoa(c.Attempt)}, "clear": {c.Clear}}
	case outing.Show:
		return "/shown", url.Values{"machine": {c.Machine}, "attempt": {strconv.Itoa(c.Attempt)}, "permit": {c.Permit}, "moved": {c.Moved}}
	case outing.PutBack:
		return "/put-back", url.Values{"machine": {c.Machine}, "attempt": {strconv.Itoa(c.Attempt)}}
	case outing.Test:
		return "/test", url.Values{"machine": {c.Machine}, "attempt": {strconv.Itoa(c.Attempt)}, "test": {strconv.Itoa(c.Test.Test)}, "result": {c.Result}, "seconds": {c.Seconds}}
	}
	return "", nil
}

type bareDatabase struct {
	db     *sql.DB
	insert *sql.Stmt
	path   string
}

func bareFile(dir string) (*bareDatabase, error) {
	path := filepath.Join(dir, fmt.Sprintf("vespers-bare-%d", os.Getpid()))
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	// The columns of a record, and the index that its id must have.
	if _, err = db.Exec("CREATE TABLE record (seq INTEGER PRIMARY KEY, id TEXT NOT NULL UNIQUE, kind, outing, machine, person, at, request, body, previous, hash)"); err != nil {
		return nil, err
	}
	insert, err := db.Prepare("INSERT INTO record (id, kind, outing, machine, person, at, request, body, previous, hash) VALUES (?,?,?,?,?,?,?,?,?,?)")
	return &bareDatabase{db, insert, path}, err
}

// commit writes the bytes of a record, durably.
func (b *bareDatabase) commit(r store.Record) (time.Duration, error) {
	began := time.Now()
	_, err := b.insert.Exec(r.ID, r.Kind, r.Outing, r.Machine, r.Person, r.At.UnixMilli(), r.Request, r.Body, r.Previous, r.Hash)
	return time.Since(began), err
}
