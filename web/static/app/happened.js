// happened: what is done first when something happens is on the device before the
// server is needed for it. Pages of an outing fetch it once; where the server cannot be
// reached, the link shows what was kept.
const key = 'vespers.happened'

function kept(href) {
  try {
    const one = JSON.parse(sessionStorage.getItem(key))
    return one && one.href === href ? one.html : ''
  } catch { return '' }
}

// fetched is the page's own part of an answer, where it came in time.
async function fetched(href, ms) {
  const control = new AbortController()
  setTimeout(() => control.abort(), ms)
  const response = await fetch(href, { signal: control.signal })
  if (!response.ok || response.redirected) return ''
  const main = new DOMParser().parseFromString(await response.text(), 'text/html').querySelector('main')
  return main ? main.innerHTML : ''
}

export const happened = () => ({
  href: '',
  async init() {
    this.href = this.$el.getAttribute('href')
    if (kept(this.href)) return
    try {
      const html = await fetched(this.href, 15000)
      if (html) sessionStorage.setItem(key, JSON.stringify({ href: this.href, html }))
    } catch { /* it is asked for when it is needed */ }
  },
  async show(event) {
    const html = kept(this.href)
    if (!html) return // the link leads there as any other
    event.preventDefault()
    let answers = false
    try { answers = Boolean(await fetched(this.href, 1500)) } catch { /* out of reach */ }
    if (answers) { location.assign(this.href); return }
    const main = document.querySelector('main')
    main.innerHTML = html
    document.body.className = 'page-happened'
    history.replaceState(null, '', this.href)
    main.querySelector('h1').focus()
  },
})
