// filter: rows whose words hold all that was typed.
export const filter = () => ({
  count: '',
  look() {
    const words = this.$refs.find.value.toLowerCase().split(/\s+/).filter(Boolean)
    let n = 0
    for (const row of this.$root.querySelectorAll('[data-words]')) {
      const hit = words.every(w => row.dataset.words.includes(w))
      row.hidden = !hit
      if (hit) n++
    }
    for (const group of this.$root.querySelectorAll('section')) group.hidden = !group.querySelector('[data-words]:not([hidden])')
    this.count = String(n)
  },
})

if (location.hash === '#find') addEventListener('load', () => { const f = document.querySelector('[data-find]'); if (f) f.focus() })
