// waiting: a wait that the server set; the page only shows how it drains.
export const waiting = () => ({
  left: '', timer: 0,
  init() {
    this.whole = Math.max(1, Number(this.$root.dataset.whole))
    this.until = Date.now() + Number(this.$root.dataset.left)
    this.tick()
    this.timer = setInterval(() => this.tick(), 1000)
  },
  destroy() { clearInterval(this.timer) },
  tick() {
    const ms = this.until - Date.now()
    if (ms <= 0) { clearInterval(this.timer); location.reload(); return }
    this.left = Math.floor(ms / 60000) + ':' + String(Math.floor(ms / 1000) % 60).padStart(2, '0')
    this.$refs.ring.setAttribute('stroke-dasharray', Math.min(100, 100 * ms / this.whole) + ' 100')
  },
})
