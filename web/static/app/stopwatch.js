// stopwatch: two taps, and the time between them in the field beside. The page says
// below what nobody taps twice on purpose: such a second tap is none; and below
// what a time is the answer itself: one near its limit or past it is looked at first.
export const stopwatch = () => ({
  began: 0, shown: '0.0', label: '', frame: 0,
  init() { this.words = this.$root.querySelector('[data-start]').dataset; this.label = this.words.start },
  tap() {
    if (!this.began) {
      this.began = performance.now()
      this.label = this.words.stop
      this.$dispatch('letgo')
      this.run()
      return
    }
    const seconds = (performance.now() - this.began) / 1000
    if (seconds < Number(this.$root.dataset.quickest)) return
    this.stopped(seconds)
    if (seconds < Number(this.$root.dataset.below || 0)) this.$root.closest('form').querySelector('[value=good]').click()
  },
  // heard: the tablet has heard it stop, and the person takes that time.
  heard(event) { this.stopped(Number(event.detail.seconds)) },
  stopped(seconds) {
    cancelAnimationFrame(this.frame)
    this.began = 0
    this.shown = seconds.toFixed(1)
    this.label = this.words.again
    const field = this.$refs.seconds || this.$refs.typed
    field.value = seconds.toFixed(1)
    field.dispatchEvent(new Event('input', { bubbles: true }))
  },
  run() {
    this.shown = ((performance.now() - this.began) / 1000).toFixed(1)
    if (this.$refs.seconds) this.$refs.seconds.value = this.shown
    this.frame = requestAnimationFrame(() => this.run())
  },
})
