// filter: rows whose words hold all that was typed; Enter opens the only one.
export const filter = () => ({
  count: '',
  init() { if (this.$refs.find.value) this.look() },
  look() {
    const words = this.$refs.find.value.toLowerCase().split(/\s+/).filter(Boolean)
    let n = 0
    for (const row of this.$root.querySelectorAll('[data-words]')) {
      const hit = words.every(w => row.dataset.words.includes(w))
      row.hidden = !hit
      if (hit) n++
    }
    for (const group of this.$root.querySelectorAll('section')) group.hidden = !group.querySelector('[data-words]:not([hidden])')
    const said = this.$refs.find.dataset
    this.count = n ? said.some.replace('#', n) : said.none
  },
  open() {
    const left = this.$root.querySelectorAll('[data-words]:not([hidden]) a')
    if (left.length === 1) location.assign(left[0].href)
  },
})

if (location.hash === '#find') addEventListener('load', () => { const f = document.querySelector('[data-find]'); if (f) f.focus() })
