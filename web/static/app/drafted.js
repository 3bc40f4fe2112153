// drafted: a long form that is kept on the device while it is filled in, so that a flat
// battery in the middle of it costs nothing. What was sent is the server's.
export const drafted = () => ({
  restored: false, many: 0, key: '',
  init() {
    const { fresh, draft } = this.$root.dataset
    this.key = `vespers:draft:${document.body.dataset.person}:${draft}`
    if (fresh === 'yes') this.restore()
    this.count()
  },
  restore() {
    let kept = null
    try { kept = JSON.parse(localStorage.getItem(this.key)) } catch { return }
    if (!kept) return
    for (const [name, value] of kept) {
      const field = this.$refs.form.elements.namedItem(name)
      if (!field) continue
      if (field.type === 'checkbox') field.checked = true
      else field.value = value
    }
    this.restored = true
  },
  noted() {
    this.count()
    const kept = [...new FormData(this.$refs.form)].filter(([name, value]) => value && !['of', 'model'].includes(name))
    try { localStorage.setItem(this.key, JSON.stringify(kept)) } catch { /* then it is not kept */ }
  },
  // Numbers that nobody has spoken of yet, of those that the model has as it is built.
  count() {
    const lines = [...this.$root.querySelectorAll('[data-figure]')]
    for (const line of lines) line.hidden = !this.there(JSON.parse(line.dataset.figure))
    this.many = lines.filter(line => !line.hidden && ![...line.querySelectorAll('input')].some(i => i.type === 'checkbox' ? i.checked : i.value.trim())).length
  },
  there(ways) {
    return Object.entries(ways || {}).every(([option, some]) => {
      const chosen = this.$root.querySelector(`[name="fixed:${option}"]`)
      return !chosen || !chosen.value || some.includes(chosen.value)
    })
  },
  get togo() { return this.$refs.togo.dataset.words.replace('{n}', this.many) },
  anew() { this.forget(); location.reload() },
  forget() { try { localStorage.removeItem(this.key) } catch { /* nothing was kept */ } },
})
