// bench: a machine as a table that the server computed: every place it can be in,
// and what each act leads to. Nothing is worked out here.
export const bench = () => ({
  at: 0, actions: 0, engineWords: '', game: null, asked: 0,
  init() {
    this.game = JSON.parse(this.$refs.game.textContent)
    this.at = this.game.start
    this.tell(this.game.engine ? 'standing' : 'none')
    this.show()
  },
  tell(what) { if (what) this.engineWords = this.$refs.engine.dataset[what] },
  // The acts of a place: each control, then the key, then switching off.
  act(number) {
    const step = this.game.acts[this.at][number]
    if (!step) return
    this.at = step.to
    this.tell(step.says)
    if (step.count) {
      this.actions++
      if (this.$refs.count) this.$refs.count.value = this.actions
    }
    this.show()
  },
  controls() { return this.$root.querySelectorAll('[data-switch]') },
  move(event) { this.act(Number(event.currentTarget.dataset.switch)) },
  key() { this.act(this.controls().length) },
  off() { this.act(this.controls().length + 1) },
  show() {
    const place = this.game.places[this.at]
    for (const control of this.controls()) {
      const made = place.state >> Number(control.dataset.switch) & 1
      control.querySelector('span').textContent = made ? control.dataset.made : control.dataset.broken
      control.classList.toggle('made', !!made)
    }
    for (const drive of this.$root.querySelectorAll('[data-drive]')) {
      const moves = place.moving >> Number(drive.dataset.drive) & 1
      drive.textContent = moves ? drive.dataset.moving : drive.dataset.still
      drive.classList.toggle('moves', !!moves)
    }
    this.draw(place.state)
  },
  async draw(state) {
    const asked = ++this.asked
    try {
      const response = await fetch(this.$root.dataset.ladder + '?state=' + state)
      const html = response.ok ? await response.text() : ''
      if (html && asked === this.asked) this.$refs.ladder.innerHTML = html
    } catch { /* the ladder stays as it was; the words tell */ }
  },
})
