package outside

// The message outbox: who is told what, once.

import (
	"context"
	"time"

	"vespers/core/yard"
	"vespers/say"
	"vespers/tell"
)

// message is what the outbox takes; the same id is sent once.
type message struct {
	ID       string    `json:"id"`
	To       string    `json:"to"`
	Language string    `json:"language"`
	Text     string    `json:"text"`
	At       time.Time `json:"at"`
}

// sendOut sends what people are to be told and were not: what leads are, and to whoever
// found something what became of it. What was taken is remembered, so that nobody is told
// twice, not after a restart either; what was not waits, and the yard shows it anyway.
func (d *Desk) sendOut(ctx context.Context) error {
	list, err := d.messages(ctx)
	if err != nil {
		return err
	}
	sent, err := d.c.Store.SentOut(ctx)
	if err != nil {
		return err
	}
	waiting := 0
	var failed error
	for _, m := range list {
		if sent[m.ID] {
			continue
		}
		if failed == nil {
			failed = d.ask(ctx, "POST", d.c.Outbox, "/messages", m, nil)
		}
		if failed != nil {
			waiting++
			continue
		}
		if err := d.c.Store.NoteSent(ctx, m.ID, d.c.Now()); err != nil {
			return err
		}
	}
	d.mu.Lock()
	d.waiting = waiting
	d.mu.Unlock()
	if failed == nil {
		failed = d.ask(ctx, "GET", d.c.Outbox, "/messages", nil, &struct{}{}) // is it there?
	}
	return failed
}

// Waiting is how many messages were not taken yet.
func (d *Desk) Waiting() int {
	if d == nil {
		return 0
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.waiting
}

// messages are what people are told now, each in their own words.
func (d *Desk) messages(ctx context.Context) (out []message, err error) {
	y, err := d.c.Store.Yard(ctx)
	if err != nil {
		return nil, err
	}
	now := d.c.Now()
	view, check := d.c.Store.View(ctx)
	for _, t := range yard.Tidings(view, now) {
		v := say.NewVoice(t.To.Language, t.To.Units, y.Location())
		m := message{ID: t.ID, To: t.To.Name, Language: string(t.To.Language), At: t.At}
		switch {
		case t.Defect != nil:
			at, sheet, err := d.c.Store.Described(ctx, t.Defect.Machine)
			if err != nil {
				return nil, err
			}
			m.Text = v.T("outbox.halt", "machine", at.Name, "what", tell.Defect(v, sheet, *t.Defect), "who", name(view, t.Defect.FoundBy))
		case t.Outing != nil:
			m.Text = v.T("outbox.missed", "who", name(view, t.Outing.Operator()), "machine", t.Outing.Name(), "due", v.Clock(t.At))
		default:
			m.Text = v.T("outbox.sealed", "who", name(view, t.Seal.By), "day", t.Seal.Day, "left", len(t.Seal.Left))
		}
		out = append(out, m)
	}
	for _, p := range view.People() {
		news, err := d.c.Store.News(ctx, p.ID, now)
		if err != nil {
			return nil, err
		}
		v := say.NewVoice(p.Language, p.Units, y.Location())
		for _, n := range news {
			at, sheet, err := d.c.Store.Described(ctx, n.Machine)
			if err != nil {
				return nil, err
			}
			out = append(out, message{ID: "mended-" + n.ID, To: p.Name, Language: string(p.Language), At: n.ClosedAt,
				Text: v.T("news.mended", "machine", at.Name, "what", tell.Lower(tell.Defect(v, sheet, n.Defect)), "who", n.CloserName, "when", v.When(n.ClosedAt, now))})
		}
	}
	return out, check()
}

func name(view yard.View, id string) string {
	p, _ := view.Person(id)
	return p.Name
}
