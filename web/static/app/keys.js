// Single-letter keys: off in fields, off where the person wants them off, and
// never the answer to a safety point.
const first = selector => [...document.querySelectorAll(selector)].find(e => e.offsetParent !== null)

document.addEventListener('keydown', event => {
  if (document.body.dataset.keys !== 'on' || event.ctrlKey || event.metaKey || event.altKey) return
  const at = document.activeElement
  if (at && (/^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName) && !/^(radio|checkbox)$/.test(at.type))) return
  const done = () => event.preventDefault()
  if (event.key === '?') { done(); document.dispatchEvent(new Event('vespers:keys')); return }
  if (event.key === 'm') { const link = first('.places a'); if (link) { done(); link.focus() } return }
  if (event.key === 'f') {
    done()
    const field = first('[data-find]')
    if (field) field.focus()
    else location.assign('/yard/list#find')
    return
  }
  const runner = document.querySelector('.runner')
  if (runner) inRunner(event, runner, done)
})

// inRunner gives the keys of the runners their meaning.
function inRunner(event, runner, done) {
  if (event.key === 'ArrowLeft' && runner.dataset.prev) { done(); location.assign(runner.dataset.prev); return }
  if (event.key === 'ArrowRight' && runner.dataset.next) { done(); location.assign(runner.dataset.next); return }
  if (/^[0-9]$/.test(event.key)) {
    const field = first('[data-digits]')
    if (!field) return
    done()
    field.focus()
    field.value += event.key
    field.dispatchEvent(new Event('input', { bubbles: true }))
    return
  }
  if (event.key === 'n') {
    const fold = first('[data-letter-open="n"]')
    if (fold) { done(); fold.open = true; fold.querySelector('button').focus() }
    return
  }
  const button = first(`[data-letter="${CSS.escape(event.key)}"]`)
  if (!button) return
  done()
  // A key moves the focus to the answer of a safety point; a second, deliberate
  // press gives it.
  if (event.key === 's' && button.form.dataset.safety === 'true') button.focus()
  else button.click()
}

// keysHelp: the card that shows them all, above everything else while it is open.
export const keysHelp = () => ({
  init() { document.addEventListener('vespers:keys', () => this.toggle()) },
  toggle() {
    if (this.$root.open) this.$root.close()
    else this.$root.showModal()
  },
  hide() { this.$root.close() },
})
