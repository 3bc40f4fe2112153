package main

import (
	"context"
	"database/sql"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strconv"
	"time"

	_ "modernc.org/sqlite"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/demo"
)

// saving answers whole outings of the large yard through its pages. Beside
// every answer the same bytes are committed to a bare SQLite file with the
// same durability, so that both meet the same disk at the same time.
func saving(ctx context.Context, t *table, large string) error {
	c, err := open(ctx, large)
	if err != nil {
		return err
	}
	defer c.close()
	bare, err := bareFile(filepath.Dir(large))
	if err != nil {
		return err
	}
	defer os.Remove(bare.path)
	defer bare.db.Close()
	var ours, theirs times
	run := strconv.FormatInt(time.Now().UnixNano(), 36)
	for n := 0; len(ours) < 400; n++ {
		id := fmt.Sprintf("bench%s%d", run, n)
		machine, err := freeMachine(ctx, c)
		if err != nil {
			return err
		}
		if w := c.send("POST", "/machines/"+machine+"/outing", url.Values{"id": {id}}); w.Code != http.StatusOK {
			return fmt.Errorf("taking out %s: %d %s", machine, w.Code, w.Body)
		}
		for i := 0; ; i++ {
			o, err := c.store.Outing(ctx, "o-"+id)
			if err != nil {
				return err
			}
			e := demo.Next(o, operator.Readiness{Role: operator.Lead})
			if e == nil {
				break
			}
			path, form := asForm(e)
			form.Set("id", fmt.Sprintf("%s-%d", id, i))
			began := time.Now()
			w := c.send("POST", "/outings/"+o.ID+path, form)
			ours = append(ours, time.Since(began))
			if w.Code != http.StatusOK {
				return fmt.Errorf("%s %v: %d %s", path, form, w.Code, w.Body)
			}
			last, err := c.store.Newest(ctx)
			if err != nil {
				return err
			}
			took, err := bare.commit(last.Body)
			if err != nil {
				return err
			}
			theirs = append(theirs, took)
		}
		if w := c.send("POST", "/outings/o-"+id+"/end", url.Values{"id": {id + "-end"}}); w.Code != http.StatusOK {
			return fmt.Errorf("ending: %d", w.Code)
		}
	}
	t.row(fmt.Sprintf("saving an answer, %d answers, p95", len(ours)), "15 ms", ms(ours.p95())+", median "+ms(ours.median()), ours.p95() <= 15*time.Millisecond)
	ratio := float64(theirs.sum()) / float64(ours.sum())
	t.row("rate of answers against bare durable commits", "0.5 ×", fmt.Sprintf("%.2f × (bare: median %s)", ratio, ms(theirs.median())), ratio >= 0.5)
	return nil
}

// freeMachine is one that may go out now.
func freeMachine(ctx context.Context, c *client) (string, error) {
	all, err := c.store.Machines(ctx)
	if err != nil {
		return "", err
	}
	for _, m := range all {
		if m.Outing == nil && m.Grade == "sound" {
			return m.ID, nil
		}
	}
	return "", fmt.Errorf("no machine is free")
}

// asForm is an event as the page sends it.
func asForm(e outing.Event) (path string, form url.Values) {
	switch e := e.(type) {
	case outing.Readied:
		return "/ready", url.Values{"fit": {"yes"}, "worn": e.Worn}
	case outing.Set:
		return "/set", url.Values{"machine": {e.Machine}, "setting": {e.Setting}, "to": {e.To}}
	case outing.Answered:
		form = url.Values{"machine": {e.Machine}, "check": {e.Check}, "item": {e.Item}, "answer": {e.Answer}}
		if e.Value != nil {
			form.Set("typed", e.Value.Typed)
			form.Set("unit", e.Value.Unit)
		}
		return "/answer", form
	case outing.Cranked:
		return "/crank", url.Values{"machine": {e.Machine}, "attempt": {strconv.Itoa(e.Attempt)}, "did": {"started"}}
	case outing.Tested:
		form = url.Values{"machine": {e.Machine}, "attempt": {strconv.Itoa(e.Attempt)}, "test": {strconv.Itoa(e.Test)}, "result": {"good"}}
		if e.Seconds != nil {
			form.Set("seconds", fmt.Sprint(*e.Seconds))
		}
		return "/test", form
	}
	return "", nil
}

type bareDatabase struct {
	db   *sql.DB
	path string
}

func bareFile(dir string) (*bareDatabase, error) {
	path := filepath.Join(dir, fmt.Sprintf("vespers-bare-%d", os.Getpid()))
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	_, err = db.Exec("CREATE TABLE record (seq INTEGER PRIMARY KEY, body BLOB NOT NULL)")
	return &bareDatabase{db, path}, err
}

func (b *bareDatabase) commit(body []byte) (time.Duration, error) {
	began := time.Now()
	_, err := b.db.Exec("INSERT INTO record (body) VALUES (?)", body)
	return time.Since(began), err
}
