// waiting: a wait that the server set; the page only shows how it drains, in the title
// too, and says when it is over: by a sound and a shake, where the device allows, and on
// the lock screen where the person asked for that.
import { chime } from './chime.js'
import { notice, noticesAsk, noticesMayAsk } from './notice.js'

export const waiting = () => ({
  left: '', timer: 0, title: document.title, asks: noticesMayAsk(),
  init() {
    this.whole = Math.max(1, Number(this.$root.dataset.whole))
    this.until = Date.now() + Number(this.$root.dataset.left)
    this.begun()
    this.tick()
    this.timer = setInterval(() => this.tick(), 1000)
  },
  destroy() { clearInterval(this.timer) },
  begun() { notice(this.$root.dataset.for, this.$root.querySelector('[data-until]').textContent, true) },
  async ask() {
    await noticesAsk()
    this.asks = noticesMayAsk()
    this.begun()
  },
  tick() {
    const ms = this.until - Date.now()
    if (ms <= 0) { clearInterval(this.timer); this.over(); return }
    this.left = Math.floor(ms / 60000) + ':' + String(Math.floor(ms / 1000) % 60).padStart(2, '0')
    document.title = this.left + ' · ' + this.title
    this.$refs.ring.setAttribute('stroke-dasharray', Math.min(100, 100 * ms / this.whole) + ' 100')
  },
  over() {
    if (navigator.vibrate) navigator.vibrate([300, 150, 300])
    notice(this.$root.dataset.for, this.$root.dataset.over, false)
    setTimeout(() => location.reload(), chime() ? 900 : 0)
  },
})
