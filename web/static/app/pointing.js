// pointing: places on the plan, by tapping it; each is a line of the form, where it can be
// typed and changed.
export const pointing = () => ({
  text: '',
  init() { this.text = this.$refs.along.value },
  typed() { this.text = this.$refs.along.value },
  get any() { return this.text.trim() !== '' },
  // points are the places as the drawing has them.
  get points() {
    const svg = this.$root.querySelector('svg.site')
    const left = Number(svg.dataset.left), upper = Number(svg.dataset.upper)
    return this.text.split('\n').map(line => line.trim().replaceAll(',', '.').split(/[\s;]+/).map(Number))
      .filter(at => at.length === 2 && at.every(Number.isFinite)).map(at => `${at[0] - left},${upper - at[1]}`).join(' ')
  },
  tap(event) {
    const svg = this.$root.querySelector('svg.site')
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse())
    const x = (at.x + Number(svg.dataset.left)).toFixed(1), y = (Number(svg.dataset.upper) - at.y).toFixed(1)
    this.put(this.text.trim() ? `${this.text.trimEnd()}\n${x} ${y}` : `${x} ${y}`)
  },
  back() { this.put(this.text.trimEnd().split('\n').slice(0, -1).join('\n')) },
  put(text) { this.text = text; this.$refs.along.value = text },
})
