// stopwatch: two taps, and the time between them in the field beside. Nobody taps
// twice within 0.4 seconds on purpose: such a second tap is none.
const quickest = 400

export const stopwatch = () => ({
  began: 0, shown: '0.0', label: '', frame: 0,
  init() { this.words = this.$root.querySelector('[data-start]').dataset; this.label = this.words.start },
  tap() {
    if (!this.began) {
      this.began = performance.now()
      this.label = this.words.stop
      this.run()
      return
    }
    const took = performance.now() - this.began
    if (took < quickest) return
    cancelAnimationFrame(this.frame)
    const seconds = took / 1000
    this.began = 0
    this.shown = seconds.toFixed(1)
    this.label = this.words.again
    const field = this.$refs.seconds || this.$refs.typed
    field.value = seconds.toFixed(1)
    field.dispatchEvent(new Event('input', { bubbles: true }))
  },
  run() {
    this.shown = ((performance.now() - this.began) / 1000).toFixed(1)
    this.frame = requestAnimationFrame(() => this.run())
  },
})
