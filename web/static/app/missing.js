// missing: a page of a lead that stays open asks again and again who was to be heard of
// and was not; somebody new is told by a sound and a shake too.
import { chime } from './chime.js'

const every = 20000 // ms

export const missing = () => ({
  timer: 0,
  init() { this.timer = setInterval(() => this.ask(), every) },
  destroy() { clearInterval(this.timer) },
  async ask() {
    let html = ''
    try {
      const response = await fetch('/missed')
      if (!response.ok || response.redirected) return
      html = await response.text()
    } catch { return /* asked again later */ }
    const links = root => [...root.querySelectorAll('a')].map(a => a.getAttribute('href'))
    const fresh = new DOMParser().parseFromString(html, 'text/html').body
    const known = links(this.$root)
    if (fresh.textContent.trim() === this.$root.textContent.trim()) return
    this.$root.replaceChildren(...fresh.children)
    if (links(this.$root).some(href => !known.includes(href))) {
      if (navigator.vibrate) navigator.vibrate([300, 150, 300])
      chime()
    }
  },
})
