// answer: a form sent by the page, kept until the server has it on disk.
import { packed } from './picture.js'
import { add, drop, flush, freshID, me, othersWaiting, refusedOf, storageFails, waitingOf } from './queue.js'

const say = key => document.body.dataset[key]

// remember keeps what was saved for the next page, which says it and goes on at
// its question: who listens hears that it was taken, and who types is there.
function remember(words) {
  try { sessionStorage.setItem('vespers:answered', words || ' ') } catch { /* then it is not said */ }
}

export function sayWhatWasSaved() {
  let words = null
  try { words = sessionStorage.getItem('vespers:answered'); sessionStorage.removeItem('vespers:answered') } catch { return }
  const place = document.getElementById('next') // on a page of many forms
  const heading = place || document.querySelector('main h1[tabindex]'), status = document.getElementById('answered')
  if (!words || !heading || !status) return
  heading.focus({ preventScroll: !place })
  setTimeout(() => { status.textContent = status.dataset.saved.replace('{what}', words.trim()) }, 100)
}

// about is what an answer is to: a later one to the same takes its place. Only
// answers to points can be told apart so; any other form stands for itself.
function about(form, fields) {
  const get = name => (fields.find(field => field[0] === name) || [])[1] || ''
  return get('check') ? [form.getAttribute('action'), get('machine'), get('check'), get('item')].join('|') : ''
}

// what names an answer for somebody who is told later that it was not taken.
function what(form, submitter) {
  const heading = document.querySelector('main h1')
  const pressed = submitter && submitter.textContent.trim()
  const typed = form.querySelector('[name=typed]')
  return [heading && heading.textContent.trim(), typed && typed.value || pressed].filter(Boolean).join(': ')
}

// go leads on. A place on the same page is one that has changed since.
function go(next) {
  if (!next) return location.reload()
  const to = new URL(next, location.href)
  if (!to.hash || to.pathname + to.search !== location.pathname + location.search) return location.assign(next)
  history.replaceState(null, '', next)
  history.scrollRestoration = 'manual'
  location.reload()
}

export const answer = () => ({
  message: '', tone: '', choices: [], timer: 0,
  init() {
    // Each point has an address of its own, so that Back leads to the one before.
    const here = this.$root.dataset.here
    if (here && !location.search.includes('point=')) history.replaceState(null, '', here)
    if (waitingOf(me()).length) { this.tell('wait', say('mine')); this.retry() }
    this.online = () => this.retry()
    window.addEventListener('online', this.online)
  },
  destroy() { window.removeEventListener('online', this.online); clearTimeout(this.timer) },
  tell(tone, message) { this.tone = tone; this.message = message },
  async send(event) {
    const form = event.target, pressed = event.submitter
    if (form.dataset.busy) return
    const given = [...new FormData(form).entries()].filter(([name]) => name !== 'id')
    const fields = given.filter(([, value]) => typeof value === 'string')
    const file = given.map(([, value]) => value).find(value => typeof value !== 'string' && value.size)
    // The button that was pressed, also in browsers that leave it out.
    if (pressed && pressed.name) fields.push([pressed.name, pressed.value])
    // The same again is the same answer; anything else is another.
    const said = JSON.stringify([fields, file && [file.name, file.size, file.lastModified]])
    if (form.dataset.said !== said) { form.dataset.said = said; delete form.dataset.id }
    const id = form.dataset.id || (form.dataset.id = freshID())
    fields.push(['id', id], ['device_at', String(Date.now())])
    this.tell('', say('sending'))
    this.choices = []
    form.dataset.busy = '1'
    let picture
    try { picture = file && await packed(file) } catch {
      delete form.dataset.busy
      this.tell('bad', say('photowait'))
      return
    }
    add({ id, person: me(), name: document.body.dataset.name, url: form.getAttribute('action'), fields, about: about(form, fields),
      what: what(form, pressed), href: location.pathname + location.search, ...(picture && { picture }) })
    if (storageFails()) this.tell('wait', say('unkept'))
    await this.retry(form)
  },
  async retry(form) {
    clearTimeout(this.timer)
    const reply = await flush()
    if (!reply) { // another try is under way: look again when it is over
      if (form) { delete form.dataset.busy; this.timer = setTimeout(() => this.retry(form), 300) }
      return
    }
    if (form) delete form.dataset.busy
    const mine = !form || reply.id === form.dataset.id
    if (reply.status >= 200 && reply.status < 300) {
      this.tell('', say('sent'))
      remember(reply.what)
      go(reply.body.next)
      return
    }
    if (reply.body.waits) { this.tell('wait', reply.body.error); return }
    if (reply.status === 0 || reply.status === 503 || reply.status === 502 || reply.status === 504) {
      this.tell('wait', storageFails() ? say('unkept') : reply.body.error || say('waiting'))
      this.timer = setTimeout(() => this.retry(form), 3000)
      return
    }
    if (reply.status === 401) {
      this.tell('wait', reply.body.error)
      setTimeout(() => location.assign('/sign-in?next=' + encodeURIComponent(location.pathname + location.search)), 1500)
      return
    }
    // The server has said no: what was typed stays in its field, and the next
    // try is a new answer. A server that could not save has said nothing yet.
    if (reply.status < 500 && form && mine) {
      delete form.dataset.id
      drop(reply.id) // it is told here, where it was given
      this.choices = reply.body.choices || []
    }
    this.tell('bad', [reply.body.error, reply.body.detail].filter(Boolean).join(' '))
    const typed = form && form.querySelector('[name=typed], [name=seconds]')
    if (typed && typed.offsetParent) { typed.focus(); typed.select() }
    const said = (form || this.$root).querySelector('.saving')
    if (said) this.$nextTick(() => said.scrollIntoView({ block: 'nearest' }))
  },
  tickAll(event) {
    for (const box of this.$root.querySelectorAll('input[name=worn], input[name=same]')) box.checked = event.target.checked
  },
})

// unsent: on every page, what waits, what was refused while nobody looked, and
// whose answers wait for them. Pages without a form of their own send from here.
export const unsent = () => ({
  refused: [], others: '', mine: '', any: false, timer: 0,
  init() {
    this.look = () => this.show()
    document.addEventListener('vespers:queue', this.look)
    this.online = () => this.send()
    if (!document.querySelector('[x-data="answer"]')) {
      window.addEventListener('online', this.online)
      this.send()
    }
    this.show()
  },
  destroy() {
    document.removeEventListener('vespers:queue', this.look)
    window.removeEventListener('online', this.online)
    clearTimeout(this.timer)
  },
  async send() {
    clearTimeout(this.timer)
    if (!waitingOf(me()).length) return
    await flush()
    if (waitingOf(me()).length) this.timer = setTimeout(() => this.send(), 5000)
  },
  show() {
    const form = document.querySelector('[x-data="answer"]')
    this.mine = !form && waitingOf(me()).length ? say('mine') : ''

    this.refused = refusedOf(me()).map(item => ({ id: item.id, href: item.href,
      choices: (item.choices || []).map((choice, i) => ({ ...choice, id: item.id, i })),
      words: say('refused').replace('{what}', item.what).replace('{why}', item.refused) }))
    const names = [...new Set(othersWaiting(me()).map(item => item.name || item.person))].filter(Boolean)
    this.others = names.map(name => say('others').replace('{who}', name)).join(' ')
    this.any = this.refused.length > 0 || this.others !== '' || this.mine !== ''
  },
  // choose answers what the server asked about something that was sent in passing: it goes
  // again as it was, with the answer.
  choose(event) {
    const { id, i } = event.currentTarget.dataset
    const item = refusedOf(me()).find(one => one.id === id)
    if (!item) return
    const { name, value } = item.choices[i], anew = freshID()
    const fields = item.fields.filter(([field]) => field !== 'id' && field !== name).concat([[name, value], ['id', anew]])
    const { refused, choices, tried, ...rest } = item
    add({ ...rest, id: anew, fields })
    drop(id)
    this.send()
  },
  dismiss(event) { drop(event.currentTarget.dataset.id) },
})
