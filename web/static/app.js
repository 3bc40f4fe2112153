// The page's own behaviour. No rule of the job is in here: what may be answered,
// what an answer means and what comes next is decided by the server.
'use strict'

// Ids must work on a plain http address in the yard, where crypto.randomUUID
// is not offered.
const freshID = () => Array.from(crypto.getRandomValues(new Uint8Array(16)), b => b.toString(16).padStart(2, '0')).join('')

// Unsent answers wait here and are sent again with the same id, oldest first.
const queue = {
  key: 'vespers.unsent',
  all() { try { return JSON.parse(localStorage.getItem(this.key)) || [] } catch { return [] } },
  keep(list) { try { localStorage.setItem(this.key, JSON.stringify(list)) } catch { /* full or forbidden: the page still holds it */ } },
  add(item) { const list = this.all(); list.push(item); this.keep(list) },
  drop(id) { this.keep(this.all().filter(item => item.id !== id)) },
}

async function post(item) {
  const stop = AbortSignal.timeout(15000)
  const response = await fetch(item.url, { method: 'POST', body: new URLSearchParams(item.fields), headers: { Accept: 'application/json' }, signal: stop })
  const body = await response.json().catch(() => ({}))
  return { status: response.status, body }
}

const say = key => document.body.dataset[key]

let sending = false
// flush sends what waits. An answer the server has judged, for good or ill, is
// done with; one it could not hear or could not save stays.
async function flush() {
  if (sending) return null
  sending = true
  let last = null
  try {
    for (const item of queue.all()) {
      const answer = await post(item)
      if (answer.status === 401 || answer.status >= 500) return answer
      queue.drop(item.id)
      last = answer
    }
  } catch { last = { status: 0, body: {} } } finally { sending = false }
  return last
}

document.addEventListener('alpine:init', () => {
  // answer: a form sent by the page, kept until the server has it on disk.
  Alpine.data('answer', () => ({
    message: '', tone: '', timer: 0,
    init() {
      if (queue.all().length) { this.tell('wait', say('waiting')); this.retry() }
      this.online = () => this.retry()
      window.addEventListener('online', this.online)
    },
    destroy() { window.removeEventListener('online', this.online); clearTimeout(this.timer) },
    tell(tone, message) { this.tone = tone; this.message = message },
    async send(event) {
      const form = event.target
      if (form.dataset.busy) return
      const fields = new FormData(form, event.submitter)
      const id = form.dataset.id || (form.dataset.id = freshID())
      fields.set('id', id)
      fields.set('device_at', String(Date.now()))
      form.dataset.busy = '1'
      this.tell('', say('sending'))
      queue.add({ id, url: form.getAttribute('action'), fields: [...fields.entries()] })
      await this.retry(form)
    },
    async retry(form) {
      clearTimeout(this.timer)
      const answer = await flush()
      if (!answer) return
      if (answer.status >= 200 && answer.status < 300) {
        this.tell('', say('sent'))
        if (answer.body.next) location.assign(answer.body.next)
        else location.reload()
        return
      }
      if (form) { delete form.dataset.busy }
      if (answer.status === 0 || answer.status === 503 || answer.status === 502 || answer.status === 504) {
        this.tell('wait', answer.body.error || say('waiting'))
        this.timer = setTimeout(() => this.retry(form), 3000)
        return
      }
      if (answer.status === 401) {
        this.tell('wait', answer.body.error)
        setTimeout(() => location.assign('/sign-in?next=' + encodeURIComponent(location.pathname + location.search)), 1500)
        return
      }
      // The server has said no: what was typed stays in its field, and the next
      // try is a new answer. A server that could not save has said nothing yet.
      if (answer.status < 500 && form) delete form.dataset.id
      this.tell('bad', [answer.body.error, answer.body.detail].filter(Boolean).join(' '))
    },
    tickAll(event) {
      for (const box of this.$root.querySelectorAll('input[name=worn], input[name=same]')) box.checked = event.target.checked
    },
  }))

  Alpine.data('pin', () => ({
    press(event) {
      const key = event.currentTarget.dataset.key, field = this.$refs.pin
      field.value = key === 'back' ? field.value.slice(0, -1) : (field.value + key).slice(0, 8)
    },
  }))

  Alpine.data('keypad', () => ({
    press(event) {
      const key = event.currentTarget.dataset.key, field = this.$refs.typed
      field.value = key === 'back' ? field.value.slice(0, -1) : field.value + key
      this.show()
    },
    // show puts the typed value on the band that the server drew.
    show() {
      const band = this.$refs.band
      if (!band) return
      const marker = this.$refs.marker, value = parseFloat(this.$refs.typed.value.replace(',', '.'))
      if (Number.isNaN(value)) { marker.setAttribute('visibility', 'hidden'); return }
      const low = Number(band.dataset.low), high = Number(band.dataset.high)
      const x = Math.min(1000, Math.max(0, 1000 * (value - low) / (high - low)))
      marker.setAttribute('transform', `translate(${x} 0)`)
      marker.setAttribute('visibility', 'visible')
    },
  }))

  Alpine.data('stopwatch', () => ({
    began: 0, shown: '0.0', label: '', frame: 0,
    init() { this.words = this.$root.querySelector('[data-start]').dataset; this.label = this.words.start },
    tap() {
      if (!this.began) {
        this.began = performance.now(); this.label = this.words.stop; this.run(); return
      }
      cancelAnimationFrame(this.frame)
      const seconds = (performance.now() - this.began) / 1000
      this.began = 0; this.shown = seconds.toFixed(1); this.label = this.words.again
      const field = this.$refs.seconds || this.$refs.typed
      field.value = seconds.toFixed(1)
      field.dispatchEvent(new Event('input', { bubbles: true }))
    },
    run() {
      this.shown = ((performance.now() - this.began) / 1000).toFixed(1)
      this.frame = requestAnimationFrame(() => this.run())
    },
  }))

  // photo: a picture is made smaller here, so that it goes through a weak link;
  // the server does it again for whoever cannot.
  Alpine.data('photo', () => ({
    message: '', tone: '',
    async small(file) {
      try {
        const picture = await createImageBitmap(file)
        const scale = Math.min(1, 1600 / Math.max(picture.width, picture.height))
        const canvas = document.createElement('canvas')
        canvas.width = Math.round(picture.width * scale); canvas.height = Math.round(picture.height * scale)
        canvas.getContext('2d').drawImage(picture, 0, 0, canvas.width, canvas.height)
        return await new Promise(done => canvas.toBlob(blob => done(blob || file), 'image/jpeg', 0.8))
      } catch { return file }
    },
    async send(event) {
      const form = event.target, fields = new FormData(form), file = fields.get('photo')
      fields.set('id', form.dataset.id || (form.dataset.id = freshID()))
      fields.set('device_at', String(Date.now()))
      this.tone = ''; this.message = say('sending')
      if (file && file.size) fields.set('photo', await this.small(file), 'photo.jpg')
      else fields.delete('photo')
      try {
        const response = await fetch(form.getAttribute('action'), { method: 'POST', body: fields, headers: { Accept: 'application/json' }, signal: AbortSignal.timeout(60000) })
        const body = await response.json().catch(() => ({}))
        if (response.ok) { location.assign(body.next); location.reload(); return }
        if (response.status < 500) delete form.dataset.id
        this.tone = 'bad'; this.message = body.error || say('waiting')
      } catch { this.tone = 'wait'; this.message = say('photowait') }
    },
  }))

  // waiting: a wait that the server set; the page only shows how it drains.
  Alpine.data('waiting', () => ({
    left: '', timer: 0,
    init() { this.until = Date.now() + Number(this.$root.dataset.left); this.tick(); this.timer = setInterval(() => this.tick(), 1000) },
    destroy() { clearInterval(this.timer) },
    tick() {
      const ms = this.until - Date.now()
      if (ms <= 0) { clearInterval(this.timer); location.reload(); return }
      this.left = Math.floor(ms / 60000) + ':' + String(Math.floor(ms / 1000) % 60).padStart(2, '0')
      this.$refs.ring.setAttribute('stroke-dasharray', Math.min(100, 100 * ms / Math.max(1, 20 * 60000)) + ' 100')
    },
  }))

  // bench: a machine as a table that the server computed. What happens in a
  // state is looked up, never worked out; only the standing of the engine and of
  // what is latched is remembered from one state to the next.
  Alpine.data('bench', () => ({
    state: 0, on: false, moving: 0, held: 0, actions: 0, engineWords: '', game: null, asked: 0,
    init() {
      this.game = JSON.parse(this.$refs.game.textContent)
      this.state = this.game.rest
      this.on = !this.game.engine
      this.tell(this.game.engine ? 'standing' : 'none')
      this.look(this.state)
      this.show()
    },
    effects() { return this.game.effects[this.state] },
    tell(what) { this.engineWords = this.$refs.engine.dataset[what] },
    key() {
      if (this.on) return
      this.act()
      const happens = this.effects()
      if (!(happens & 1)) { this.tell('refused'); return }
      this.on = (happens & 2) !== 0
      this.held = 0
      this.tell(this.on ? 'running' : 'stopped')
      this.look(this.state)
      this.show()
    },
    off() { this.on = false; this.moving = 0; this.tell('standing'); this.show() },
    move(event) {
      const before = this.state, bit = 1 << Number(event.currentTarget.dataset.switch)
      this.state ^= bit
      if (this.on) this.act()
      if (this.on && this.game.engine && !(this.effects() & 2)) { this.on = false; this.tell('stopped') }
      this.look(before)
      this.show()
    },
    // look finds what moves now; what is latched stays still until its own
    // control has been put off and on again.
    look(before) {
      const changed = before ^ this.state
      let now = 0
      this.game.drives.forEach((drive, i) => {
        const may = this.on && (this.effects() >> (2 + i) & 1), was = this.moving >> i & 1
        if (was && !may && (changed & drive.latch) && !drive.restarts) this.held |= 1 << i
        if (!may && (changed & drive.demand)) this.held &= ~(1 << i)
        if (may && !(this.held >> i & 1)) now |= 1 << i
      })
      this.moving = now
    },
    act() { this.actions++; if (this.$refs.count) this.$refs.count.value = this.actions },
    show() {
      for (const control of this.$root.querySelectorAll('[data-switch]')) {
        const made = this.state >> Number(control.dataset.switch) & 1
        control.querySelector('span').textContent = made ? control.dataset.made : control.dataset.broken
        control.classList.toggle('made', !!made)
      }
      for (const drive of this.$root.querySelectorAll('[data-drive]')) {
        const moves = this.moving >> Number(drive.dataset.drive) & 1
        drive.textContent = moves ? drive.dataset.moving : drive.dataset.still
        drive.classList.toggle('moves', !!moves)
      }
      this.draw()
    },
    async draw() {
      const asked = ++this.asked
      try {
        const response = await fetch(this.$root.dataset.ladder + '?state=' + this.state)
        const html = response.ok ? await response.text() : ''
        if (html && asked === this.asked) this.$refs.ladder.innerHTML = html
      } catch { /* the ladder stays as it was; the words tell */ }
    },
  }))

  Alpine.data('filter', () => ({
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
  }))

  Alpine.data('printer', () => ({ print() { window.print() } }))

  Alpine.data('keysHelp', () => ({
    open: false, before: null,
    init() { document.addEventListener('vespers:keys', () => { this.open = !this.open; if (this.open) { this.before = document.activeElement; this.$nextTick(() => this.$root.querySelector('button').focus()) } }) },
    hide() { this.open = false; if (this.before) this.before.focus() },
  }))
})

// A page that comes back from the browser's memory may be old: ask anew.
window.addEventListener('pageshow', event => { if (event.persisted) location.reload() })

// Single-letter keys: off in fields, off where the person wants them off, and
// never the answer to a safety point.
let going = 0
document.addEventListener('keydown', event => {
  if (document.body.dataset.keys !== 'on' || event.ctrlKey || event.metaKey || event.altKey) return
  const at = document.activeElement
  if (at && (/^(INPUT|TEXTAREA|SELECT)$/.test(at.tagName) && !/^(radio|checkbox)$/.test(at.type))) return
  const first = selector => [...document.querySelectorAll(selector)].find(e => e.offsetParent !== null)
  const done = () => event.preventDefault()
  if (Date.now() - going < 1500) {
    going = 0
    const link = first(`[data-go="${CSS.escape(event.key)}"]`)
    if (link) { done(); link.click() }
    return
  }
  if (event.key === '?') { done(); document.dispatchEvent(new Event('vespers:keys')); return }
  if (event.key === 'g') { going = Date.now(); return }
  if (event.key === '/') { done(); const field = first('[data-find]'); if (field) field.focus(); else location.assign('/yard/list#find'); return }
  const runner = document.querySelector('.runner')
  if (!runner) return
  if (event.key === 'ArrowLeft' && runner.dataset.prev) { done(); location.assign(runner.dataset.prev); return }
  if (event.key === 'ArrowRight' && runner.dataset.next) { done(); location.assign(runner.dataset.next); return }
  if (/^[0-9]$/.test(event.key)) { const field = first('[data-digits]'); if (field) { done(); field.focus(); field.value += event.key; field.dispatchEvent(new Event('input', { bubbles: true })) } return }
  if (event.key === 'n') { const d = first('[data-letter-open="n"]'); if (d) { done(); d.open = true; d.querySelector('button').focus() } return }
  const button = first(`[data-letter="${CSS.escape(event.key)}"]`)
  if (!button) return
  done()
  // A key moves the focus to the answer of a safety point; a second, deliberate
  // press gives it.
  if (event.key === 's' && button.form.dataset.safety === 'true') button.focus()
  else button.click()
})
if (location.hash === '#find') addEventListener('load', () => { const f = document.querySelector('[data-find]'); if (f) f.focus() })
