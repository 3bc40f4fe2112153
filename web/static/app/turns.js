// turns: first the engine is brought to run again, then what is done with it
// running, so that nobody reads the act before what comes before it.
export const turns = () => ({
  first: false, rest: true,
  init() { this.first = this.$root.dataset.first === 'yes'; this.rest = !this.first },
  next() {
    this.first = false
    this.rest = true
    this.$nextTick(() => { const heading = document.querySelector('main h1'); if (heading) heading.focus() })
  },
})
