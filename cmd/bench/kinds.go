package main

// Measures of every kind of machine: a yard of them is started, and the first page of a
// runner is opened for each.

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"vespers/catalogue"
	"vespers/demo"
	"vespers/store"
)

// kindsMost is how many machines the yard of every kind has.
const kindsMost = 500

func kinds(ctx context.Context, t *table) error {
	dir, err := os.MkdirTemp("", "vespers-kinds-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	file := filepath.Join(dir, "yard")
	s, err := store.Open(ctx, file)
	if err != nil {
		return err
	}
	if err := demo.Kinds(ctx, s, kindsMost, time.Now()); err != nil {
		return err
	}
	all, err := catalogue.All()
	if err != nil {
		return err
	}
	if err := s.Close(); err != nil {
		return err
	}
	if err := starting(t, file, fmt.Sprintf("start with %d machines of %d sheets", kindsMost, len(all))); err != nil {
		return err
	}
	checking, slowest, which := time.Duration(0), time.Duration(0), ""
	for _, r := range all {
		text, err := catalogue.WholeYAML(r.Sheet)
		if err != nil {
			return err
		}
		checking = max(checking, best(1, func() { catalogue.Check(r.Sheet.ID, text) }))
	}
	t.row(fmt.Sprintf("check of a sheet, slowest of %d", len(all)), "1 s", ms(checking), checking <= time.Second)
	c, err := open(ctx, file)
	if err != nil {
		return err
	}
	defer c.close()
	var yard times
	for range 100 {
		began := time.Now()
		c.send("GET", "/yard", nil)
		yard = append(yard, time.Since(began))
	}
	builds := map[string]bool{}
	for i := range kindsMost {
		id := fmt.Sprintf("k-%03d", i)
		m, err := c.store.Machine(ctx, id)
		if err != nil {
			return err
		}
		if builds[m.Sheet] {
			continue // one of each is enough
		}
		builds[m.Sheet] = true
		took := c.send("POST", "/machines/"+id+"/outing", url.Values{"id": {"bench-kinds-" + id}, "both": {"yes"}})
		if took.Code != http.StatusOK {
			if strings.Contains(took.Body.String(), "carrier") || took.Code == http.StatusUnprocessableEntity || took.Code == http.StatusConflict {
				continue // an implement goes out with what carries it, measured by that
			}
			return fmt.Errorf("%s: taking out: %d %s", m.Sheet, took.Code, took.Body)
		}
		view, check := c.store.Machine(ctx, id)
		if check != nil {
			return check
		}
		one := best(3, func() { c.send("GET", "/outings/"+view.Outing+"/ready", nil) })
		if one > slowest {
			slowest, which = one, m.Sheet
		}
	}
	sheet, err := c.store.Sheet(ctx, which)
	if err != nil {
		return err
	}
	t.row(fmt.Sprintf("first page of a runner, slowest of %d builds", len(builds)), "30 ms", ms(slowest)+" ("+sheet.Name.EN+")", slowest <= 30*time.Millisecond)
	t.row("page /yard with every kind, p95", "30 ms", ms(yard.p95())+", median "+ms(yard.median()), yard.p95() <= 30*time.Millisecond)
	return nil
}
