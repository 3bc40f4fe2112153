// aloud: the page's question, steps and cautions in the browser's own voice, in the
// person's language. One tap, never needed; where the browser has no voice there is
// no button.
const spoken = 'h1, .look, .act, .expect, .caution, .problem, .todo li, .acts li, .first-act, .run-steps > li, .wait-card'

// sentences are what is read, in the order of the page, each once: nothing that is
// folded away, no answers to choose from.
function sentences() {
  const here = document.querySelector('main .happening[open]') || document.querySelector('#question') || document.querySelector('main')
  const all = [...here.querySelectorAll(spoken)].filter(e => e.offsetParent && !e.parentElement.closest(spoken) && !e.closest('details:not([open]), .done, .given'))
  return all.map(words).filter(Boolean)
}

function words(element) {
  const copy = element.cloneNode(true)
  for (const mute of copy.querySelectorAll('svg, .is-sr-only, button, input, select')) mute.remove()
  return copy.textContent.replace(/\s+/g, ' ').trim()
}

export const aloud = () => ({
  able: 'speechSynthesis' in window && 'SpeechSynthesisUtterance' in window, speaking: false,
  init() { if (this.able) speechSynthesis.cancel() },
  destroy() { if (this.able) speechSynthesis.cancel() },
  get label() { return this.$root.dataset[this.speaking ? 'stop' : 'read'] },
  read() {
    speechSynthesis.cancel()
    if (this.speaking) { this.speaking = false; return }
    const all = sentences()
    this.speaking = all.length > 0
    all.forEach((text, i) => {
      const one = new SpeechSynthesisUtterance(text)
      one.lang = document.documentElement.lang
      one.onerror = () => { this.speaking = false }
      if (i === all.length - 1) one.onend = () => { this.speaking = false }
      speechSynthesis.speak(one)
    })
  },
})
