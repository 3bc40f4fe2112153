// tilt: the device lies on a board on the bank and reads how it leans, twice, turned half
// round between: what its back or its sensor leans by itself falls out. What is read is put
// into the form beside it, where it can be changed; nothing is sent from here.
const forMS = 3000 // it is read for so long, lying still
const stillWithin = 0.5 // degrees that it may move while it is read
const turnedAtLeast = 120 // degrees round that count as half round
const least = 0.5 // no reading by a tablet is taken to be surer, in degrees

const rad = Math.PI / 180

// lean is the part of "down" along the two edges of the screen.
const lean = event => ({ x: Math.cos(event.beta * rad) * Math.sin(event.gamma * rad), y: Math.sin(event.beta * rad) })
const angleOf = at => Math.asin(Math.min(1, Math.hypot(at.x, at.y))) / rad
const middle = list => ({ x: list.reduce((sum, one) => sum + one.x, 0) / list.length, y: list.reduce((sum, one) => sum + one.y, 0) / list.length })
const spread = list => { const at = middle(list); return Math.max(...list.map(one => Math.asin(Math.min(1, Math.hypot(one.x - at.x, one.y - at.y))) / rad)) }

export const tilt = () => ({
  there: 'DeviceOrientationEvent' in window, heading: null, does: '', shown: '', words: '', steady: 0,
  first: null, from: null, moved: 0, reading: false, list: [], since: 0,
  init() {
    this.does = this.$root.dataset.lay
    this.hear = event => this.heard(event)
  },
  destroy() { window.removeEventListener('deviceorientation', this.hear) },
  async begin() {
    const asks = window.DeviceOrientationEvent.requestPermission
    if (asks) {
      try { if (await asks.call(window.DeviceOrientationEvent) !== 'granted') return this.denied() } catch { return this.denied() }
    }
    this.list = []; this.since = 0; this.steady = 0; this.reading = true
    this.words = this.$root.dataset.still
    window.addEventListener('deviceorientation', this.hear)
    clearTimeout(this.silence)
    this.silence = setTimeout(() => { if (!this.list.length) this.denied() }, 2500)
  },
  denied() { this.stop(); this.words = this.$root.dataset.denied },
  stop() { this.reading = false; clearTimeout(this.silence); window.removeEventListener('deviceorientation', this.hear) },
  heard(event) {
    if (!this.reading || event.beta === null || event.gamma === null) return
    const at = lean(event), now = Date.now()
    this.heading = event.alpha
    this.shown = this.degrees(angleOf(this.first ? this.between(this.first, at) : at))
    if (this.list.length && spread([...this.list, at]) > stillWithin) { this.list = []; this.since = 0; this.words = this.$root.dataset.moving }
    if (!this.list.length) this.since = now
    this.list.push(at)
    this.steady = Math.min(100, 100 * (now - this.since) / forMS)
    // A device that lies still may say nothing more: the clock goes on all the same.
    clearTimeout(this.silence)
    this.silence = setTimeout(() => this.taken(), Math.max(0, forMS - (now - this.since)))
    if (now - this.since >= forMS) this.taken()
  },
  // between is how the bank leans by two readings, the second turned half round.
  between(one, other) { return { x: (one.x - other.x) / 2, y: (one.y - other.y) / 2 } },
  degrees(value) { return value.toFixed(1) + '°' },
  taken() {
    this.stop()
    this.steady = 100
    const at = middle(this.list), moved = spread(this.list)
    if (!this.first) {
      this.first = at; this.moved = moved; this.from = this.heading
      this.words = this.does = this.$root.dataset.turn
      return
    }
    // Read twice the same way round, a steep bank would come out level.
    const known = this.from !== null && this.heading !== null
    const turned = known ? Math.abs(((this.heading - this.from) % 360 + 540) % 360 - 180) : 180
    if (turned < turnedAtLeast) { this.words = this.$root.dataset.unturned; return }
    const leans = angleOf(this.between(this.first, at))
    const form = this.$root
    form.elements.angle.value = form.elements.read.value = leans.toFixed(1) // nobody asks whether it is a percent
    // Without a heading nobody knows that it was turned: what fell out may be the bank itself.
    const out = known ? 0 : angleOf({ x: (this.first.x + at.x) / 2, y: (this.first.y + at.y) / 2 })
    form.elements.u_angle.value = Math.max(least, this.moved, moved, out).toFixed(1)
    form.elements.with.value = form.dataset.with
    this.shown = this.degrees(leans)
    this.words = form.dataset.done
    this.does = form.dataset.lay
    this.first = null
  },
})
