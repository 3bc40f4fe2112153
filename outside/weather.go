package outside

// The weather post.

import (
	"context"
	"time"

	"vespers/core/yard"
)

// Seen is what the weather post saw, and when.
type Seen struct {
	yard.WeatherSaid
	At time.Time
}

func (d *Desk) askWeather(ctx context.Context) error {
	var said struct {
		Grass     string    `json:"grass"`
		Light     string    `json:"light"`
		Lightning *float64  `json:"lightning_km"`
		At        time.Time `json:"at"`
	}
	if err := d.ask(ctx, "GET", d.c.Weather, "/now", nil, &said); err != nil {
		return err
	}
	w, ok := yard.Seen(said.Grass, said.Light, said.Lightning)
	if !ok {
		return trouble{Nonsense, said.Grass + ", " + said.Light}
	}
	if err := d.onTime(said.At); err != nil {
		return err
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	d.weather = &Seen{w, said.At}
	return nil
}

// Weather is what the post sees; ok is false where it is not there, or saw it long ago.
func (d *Desk) Weather() (s Seen, ok bool) {
	if d == nil {
		return s, false
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if !d.well(Weather) || d.weather == nil || !yard.SeenLately(d.weather.At, d.c.Now()) {
		return s, false
	}
	return *d.weather, true
}
