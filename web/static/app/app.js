// The pages' own behaviour, one idea a file. No rule of the job is in here: what
// may be answered, what an answer means and what comes next is decided by the
// server.
import { alerts } from './alerts.js'
import { aloud } from './aloud.js'
import { answer, sayWhatWasSaved, unsent } from './answer.js'
import { bench } from './bench.js'
import { drafted } from './drafted.js'
import { filter } from './filter.js'
import { fresh } from './fresh.js'
import { happened } from './happened.js'
import { keypad, pin } from './keypad.js'
import { keysHelp } from './keys.js'
import { listening } from './listening.js'
import { photo } from './photo.js'
import { pointing } from './pointing.js'
import { stopwatch } from './stopwatch.js'
import { tilt } from './tilt.js'
import { turns } from './turns.js'
import { waiting } from './waiting.js'

document.addEventListener('alpine:init', () => {
  const parts = { alerts, aloud, answer, unsent, bench, drafted, filter, fresh, happened, keypad, pin, keysHelp, listening, photo, pointing, stopwatch, tilt, turns, waiting }
  for (const [name, part] of Object.entries(parts)) Alpine.data(name, part)
  Alpine.data('printer', () => ({ print() { window.print() } }))
})

document.addEventListener('DOMContentLoaded', sayWhatWasSaved)

// What is unfolded is seen whole: the key that confirms it is never under the fold.
document.addEventListener('toggle', event => {
  if (event.target.open && event.target.matches('.sure, .not-sound, .happening')) event.target.scrollIntoView({ block: 'nearest' })
}, true)

// A page that comes back from the browser's memory may be old: ask anew.
window.addEventListener('pageshow', event => { if (event.persisted) location.reload() })
