// listening: hears an engine and what it turns run down, and marks the moment from which
// it is quiet, or no quieter any more. The two taps beside it stay. What is heard becomes
// a level, 40 times a second, and is forgotten: no sound is kept or sent.
const every = 25 // ms between two levels
const settle = 1500 // ms that have to be alike before something counts as quiet
const drop = 6 // dB that it has to become quieter at least
const alike = 2 // dB within which levels are alike
const longest = 60000 // ms, then the microphone is let go

export const listening = () => ({
  able: Boolean(navigator.mediaDevices && navigator.mediaDevices.getUserMedia && window.AudioContext),
  hearing: false, denied: false, seconds: '', path: '', mark: 0, from: 0,
  destroy() { this.off() },
  async listen() {
    try {
      const raw = { echoCancellation: false, noiseSuppression: false, autoGainControl: false }
      this.stream = await navigator.mediaDevices.getUserMedia({ audio: raw })
    } catch { this.denied = true; return }
    this.audio = new AudioContext()
    this.ear = this.audio.createAnalyser()
    this.ear.fftSize = 2048
    this.audio.createMediaStreamSource(this.stream).connect(this.ear)
    this.audio.resume()
    this.levels = []
    this.began = 0
    this.seconds = ''
    this.mark = this.from = 0
    this.hearing = true
    this.first = performance.now()
    this.timer = setInterval(() => this.hear(), every)
  },
  off() {
    clearInterval(this.timer)
    if (this.stream) this.stream.getTracks().forEach(track => track.stop())
    if (this.audio) this.audio.close()
    this.stream = this.audio = null
    this.hearing = false
  },
  hear() {
    const now = performance.now(), wave = new Float32Array(this.ear.fftSize)
    this.ear.getFloatTimeDomainData(wave)
    const power = wave.reduce((sum, x) => sum + x * x, 0) / wave.length
    this.levels.push({ at: now, db: Math.max(-90, 10 * Math.log10(power + 1e-10)) })
    if (this.began && !this.seconds) this.settled()
    this.draw()
    if (now - this.first > longest) this.off()
  },
  // The person has let go, or switched off: from here it is timed.
  let_go() { if (this.hearing && !this.began) this.began = performance.now() },
  settled() {
    const at = quietFrom(this.levels, this.began)
    if (!at) return
    this.mark = at
    this.seconds = ((at - this.began) / 1000).toFixed(1)
    setTimeout(() => this.off(), 500)
  },
  // draw shows the last ten seconds, or all since it was let go, as a line.
  draw() {
    const end = this.levels.at(-1).at
    const begin = this.began ? Math.min(this.began - 1000, end - 5000) : end - 10000
    const x = at => Math.max(0, Math.min(300, 300 * (at - begin) / (end - begin)))
    const y = db => Math.max(0, Math.min(60, -db * 60 / 90))
    this.path = this.levels.filter(l => l.at >= begin).map((l, i) => (i ? 'L' : 'M') + x(l.at).toFixed(1) + ' ' + y(l.db).toFixed(1)).join('')
    this.from = this.began ? x(this.began) : -9
    this.markX = this.mark ? x(this.mark) : -9
  },
  get idle() { return !this.hearing },
  get shownFrom() { return String(this.from) },
  get shownMark() { return String(this.mark ? this.markX : -9) },
  take() {
    this.$dispatch('heard', { seconds: this.seconds })
    this.off()
  },
})

// quietFrom is the moment from which the levels since a moment are as they stay; 0 while
// they still fall, or have not fallen far enough below what was heard before.
export function quietFrom(levels, since) {
  const end = levels.at(-1).at
  if (end - since < settle) return 0
  const mean = list => list.reduce((sum, l) => sum + l.db, 0) / list.length
  const before = levels.filter(l => l.at < since && l.at > since - 2000)
  const smooth = levels.map((l, i) => ({ at: l.at, db: mean(levels.slice(Math.max(0, i - 4), i + 5)) })).filter(l => l.at >= since)
  const last = smooth.filter(l => l.at > end - settle)
  const quiet = mean(last)
  const loud = before.length ? mean(before) : smooth[0].db
  if (loud - quiet < drop || last.some(l => Math.abs(l.db - quiet) > alike)) return 0
  const lastLoud = smooth.findLast(l => l.db > quiet + alike)
  return lastLoud ? lastLoud.at : since
}
