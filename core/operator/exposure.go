package operator

// How long a person may work with a noise or a vibration.

import "math"

// A day's exposure is counted in parts of what a day may bring before something
// has to be done about it: 1 is the action value. Vibration at the hand counts
// with the square of its level, 2.5 m/s² over eight hours being 1 (local code);
// noise doubles every 3 dB, 85 dB over eight hours being 1 (local code). Both
// are the usual figures; the yard's own code comes first.
const (
	dayMinutes      = 480.0
	vibrationAction = 2.5 // m/s²
	vibrationLimit  = 5.0 // m/s², nobody goes beyond
	noiseAction     = 85.0
	noiseExchange   = 3.0
)

// Exposure is what a person has taken in, in parts of the daily action value.
type Exposure struct{ Vibration, Noise float64 }

// At is the exposure of so many minutes at a machine: vibration in m/s², noise
// in dB; 0 where the sheet gives none.
func At(minutes, vibration, noise float64) Exposure {
	var e Exposure
	if vibration > 0 {
		e.Vibration = minutes / dayMinutes * math.Pow(vibration/vibrationAction, 2)
	}
	if noise > 0 {
		e.Noise = minutes / dayMinutes * math.Pow(2, (noise-noiseAction)/noiseExchange)
	}
	return e
}

// Plus adds two exposures.
func (e Exposure) Plus(f Exposure) Exposure {
	return Exposure{e.Vibration + f.Vibration, e.Noise + f.Noise}
}

// Minutes is how long a machine may still be worked before vibration at the
// hand reaches the action value, and before it reaches the limit. Noise is left
// out: who wears hearing protection goes on.
func (e Exposure) Minutes(vibration float64) (action, limit float64) {
	each := At(1, vibration, 0).Vibration
	if each == 0 {
		return math.Inf(1), math.Inf(1)
	}
	most := math.Pow(vibrationLimit/vibrationAction, 2)
	return max(0, (1-e.Vibration)/each), max(0, (most-e.Vibration)/each)
}

// Slight reports whether a whole day more at a machine keeps vibration at the
// hand below the action value: then nobody has to be told.
func (e Exposure) Slight(vibration float64) bool {
	action, _ := e.Minutes(vibration)
	return action >= dayMinutes
}

// NoiseMinutes is how long a machine may still be worked before noise at the
// ear, unprotected, reaches the action value. Who wears hearing protection goes
// on; it is told so that nobody takes it off for "just a minute".
func (e Exposure) NoiseMinutes(noise float64) float64 {
	each := At(1, 0, noise).Noise
	if each == 0 {
		return math.Inf(1)
	}
	return max(0, (1-e.Noise)/each)
}
