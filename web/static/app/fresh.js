// fresh: a page that only tells, and stays open at the gate, is read again now and then;
// what it says is put in its place where it says something else.
const every = 60000 // ms

export const fresh = () => ({
  timer: 0,
  init() {
    this.look = () => this.ask()
    this.timer = setInterval(this.look, every)
    document.addEventListener('visibilitychange', this.look)
  },
  destroy() {
    clearInterval(this.timer)
    document.removeEventListener('visibilitychange', this.look)
  },
  async ask() {
    if (document.hidden) return
    let html = ''
    try {
      const response = await fetch(location.href)
      if (!response.ok || response.redirected) return
      html = await response.text()
    } catch { return /* asked again later */ }
    const now = new DOMParser().parseFromString(html, 'text/html').querySelector('[x-data=fresh]')
    if (now && now.textContent.trim() !== this.$root.textContent.trim()) this.$root.replaceChildren(...now.childNodes)
  },
})
