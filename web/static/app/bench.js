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
  // A control goes through the ways between where it is and where it is put;
  // each moves the contacts that stand otherwise there.
  move(event) {
    const to = event.currentTarget, control = to.closest('[data-control]')
    const ways = [...control.querySelectorAll('[data-way]')]
    const target = ways.indexOf(to)
    let now = Number(control.dataset.control)
    while (now !== target) {
      now += now < target ? 1 : -1
      for (const [contact, made] of JSON.parse(ways[now].dataset.way)) {
        if ((this.game.places[this.at].state >> contact & 1) !== made) this.act(contact)
      }
    }
    control.dataset.control = now
    for (const way of ways) way.setAttribute('aria-pressed', String(way === to))
  },
  contacts() { return this.game.acts[0].length - (this.game.engine ? 2 : 1) },
  key() { this.act(this.contacts()) },
  off() { this.act(this.contacts() + 1) },
  show() {
    const place = this.game.places[this.at]
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
