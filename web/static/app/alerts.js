// alerts: a page that stays open asks again and again for what cannot wait: who was not
// heard of, what came to a Halt while out. What is new is told by a sound and a shake too.
import { chime } from './chime.js'

const every = 20000 // ms

export const alerts = () => ({
  timer: 0,
  init() { this.timer = setInterval(() => this.ask(), every) },
  destroy() { clearInterval(this.timer) },
  // Nobody is signed in here any more: whoever looks at the page must not take its
  // silence for good news.
  signedOut() {
    clearInterval(this.timer)
    const line = document.createElement('p'), link = document.createElement('a')
    line.className = 'alerted no-print'
    line.setAttribute('role', 'alert')
    link.href = '/sign-in'
    link.textContent = this.$root.dataset.out
    line.append(link)
    this.$root.replaceChildren(line)
  },
  async ask() {
    let html = ''
    try {
      const response = await fetch('/alerts')
      if (response.redirected) return this.signedOut()
      if (!response.ok) return
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
