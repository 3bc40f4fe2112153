package yard

// The yard's bays, sent anew while the page is open.

import (
	"bytes"
	"html/template"
	"sync"

	"vespers/web/page"
)

// fragments remembers pieces that come hundreds of times on a page: what they
// show is their key, so one is only made anew where something in it changed.
var fragments = &cache{made: map[fragment][]byte{}}

type cache struct {
	mu   sync.Mutex
	made map[fragment][]byte
}

type fragment struct {
	piece string
	bay   bay
}

// fragmentsMost bounds the memory; beyond it all are forgotten.
const fragmentsMost = 10_000

// render makes the pieces for a list of bays, one after the other.
func (c *cache) render(piece string, bays []bay) (template.HTML, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	var out bytes.Buffer
	for _, b := range bays {
		key := fragment{piece, b}
		html, ok := c.made[key]
		if !ok {
			var made bytes.Buffer
			if err := page.Part(&made, piece, b); err != nil {
				return "", err
			}
			if len(c.made) >= fragmentsMost {
				clear(c.made)
			}
			html = made.Bytes()
			c.made[key] = html
		}
		out.Write(html)
	}
	return template.HTML(out.String()), nil
}
