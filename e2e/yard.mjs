// A demo yard of its own for every test: the real program on a fresh file.
import { test as base, expect } from '@playwright/test'
import AxeBuilder from '@axe-core/playwright'
import { spawn } from 'node:child_process'
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

export const pins = { maren: '4071', ines: '2608', tobias: '3195', ruth: '5824', jonah: '6417', lucia: '7302', edda: '9362', osk: '8150' }

export async function start(db, ...more) {
  const server = spawn('bin/vespers', ['demo', '--db', db, '--addr', '127.0.0.1:0', ...more], { stdio: ['ignore', 'pipe', 'ignore'] })
  let said = ''
  const address = await new Promise((resolve, reject) => {
    server.on('exit', () => reject(new Error('the server ended: ' + said)))
    server.stdout.on('data', data => {
      said += data
      const m = said.match(/http:\/\/\S+/)
      if (m && /message outbox +http\S+\s/.test(said)) resolve(m[0])
    })
  })
  // The simulated devices beside the yard, by their names.
  const devices = Object.fromEntries([...said.matchAll(/(key cabinet|hour meters|weather post|message outbox) +(http\S+)/g)].map(m => [m[1], m[2]]))
  return { server, address, devices }
}

// Filling a demo yard takes seconds: it is done once for a time of day, a minute before
// it, by whichever worker is first, and every test gets a copy. One that goes by the
// machine's own time is not kept for long, or what is out in it would have been out too
// long.
const shared = process.env.VESPERS_FILLED || mkdtempSync(join(tmpdir(), 'vespers-filled-'))

async function filledAt(time) {
  const dir = join(shared, time ? time.replace(':', '') : 'now-' + Math.floor(Date.now() / 240_000)), db = join(dir, 'yard')
  try { mkdirSync(dir) } catch (e) { // another has begun it
    if (e.code !== 'EEXIST') throw e
    for (let n = 0; n < 600; n++) {
      if (existsSync(join(dir, 'filled'))) return db
      await new Promise(after => setTimeout(after, 100))
    }
    throw new Error('nobody has filled ' + db)
  }
  const { server } = await start(db, ...(time ? ['--time', minuteBefore(time)] : []))
  server.removeAllListeners('exit')
  const ended = new Promise(resolve => server.on('exit', resolve))
  server.kill('SIGTERM')
  await ended
  writeFileSync(join(dir, 'filled'), '')
  return db
}

// filledYard puts a filled demo yard into a directory, and gives its file.
export async function filledYard(dir, time = '') {
  const from = await filledAt(time), db = join(dir, 'yard')
  for (const more of ['', '-wal', '.anchor']) if (existsSync(from + more)) copyFileSync(from + more, db + more)
  return db
}

if (!process.env.VESPERS_FILLED) process.on('exit', () => rmSync(shared, { recursive: true, force: true }))

function minuteBefore(time) {
  const [h, m] = time.split(':').map(Number), at = h * 60 + m - 1
  return `${String(Math.floor(at / 60)).padStart(2, '0')}:${String(at % 60).padStart(2, '0')}`
}

export const test = base.extend({
  // fast is how fast the yard's clock runs: engines warm up in seconds then.
  fast: [1, { option: true }],
  // time is what the yard's clock says at first, '' for the machine's own: a test that goes
  // by that fails when an outing of it crosses four in the morning.
  time: ['07:40', { option: true }],
  yard: async ({ fast, time }, use) => {
    const dir = mkdtempSync(join(tmpdir(), 'vespers-'))
    const db = await filledYard(dir, time)
    const running = await start(db, '--fast', String(fast), ...(time ? ['--time', time] : []))
    await use({ ...running, db })
    running.server.kill('SIGKILL')
    rmSync(dir, { recursive: true, force: true })
  },
  baseURL: async ({ yard }, use) => use(yard.address),
  // open is a page of another device, with a session of its own.
  open: async ({ browser, yard }, use) => {
    const contexts = []
    await use(async (options = {}) => {
      contexts.push(await browser.newContext({ baseURL: yard.address, ...options }))
      return contexts.at(-1).newPage()
    })
    for (const c of contexts) await c.close()
  },
})
export { expect }

export async function signIn(page, who) {
  await page.goto('/sign-in/' + who)
  await page.locator('#pin').fill(pins[who])
  await page.locator('#pin').press('Enter')
  await page.waitForURL('**/yard')
}

// accessible runs axe; on pages that decide safety the stricter contrast too. In other
// colours nothing but the colours is another, and on another screen nothing but those is
// looked at again: contrast is most of the work.
export async function accessible(page, only = '') {
  const contrast = ['color-contrast', 'color-contrast-enhanced']
  // No frames here: axe's legacy mode needs no second page, and is three times faster.
  const builder = new AxeBuilder({ page }).setLegacyMode(true).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'best-practice'])
    .options({ resultTypes: ['violations'], rules: { 'color-contrast-enhanced': { enabled: only !== 'layout' }, 'color-contrast': { enabled: false } } })
  if (only === 'colours') builder.withRules(contrast)
  const { violations } = await builder.analyze()
  expect(violations.map(v => `${v.id}: ${v.nodes.map(n => n.target + ' ' + (n.any[0]?.message || '')).slice(0, 3).join(' | ')}`), page.url()).toEqual([])
}

export async function noSidewaysScroll(page) {
  expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth), page.url()).toBeLessThanOrEqual(0)
}

// bigTargets: everything that answers in a runner is at least 56 px high.
export async function bigTargets(page) {
  const small = await page.locator('.runner .bar:visible, .runner .key:visible, .runner .choice:visible, .question input.input:visible').evaluateAll(all =>
    all.filter(e => e.getBoundingClientRect().height < 56).map(e => e.textContent.trim() + ' ' + e.getBoundingClientRect().height))
  expect(small, page.url()).toEqual([])
}

// inReach: what answers a runner's page is on the screen without a scroll.
export async function inReach(page) {
  const below = await page.evaluate(() => {
    scrollTo(0, 0)
    const all = [...document.querySelectorAll('.pad .bar.go, .answers .bar.go, .ready-go .bar, .answer-form > .bar.go, .marks .bar, .runner form > .bar.go')].filter(e => e.offsetParent && !e.closest('details:not([open])'))
    return all.filter(e => !e.closest('.given, .right-now') && e.getBoundingClientRect().bottom > innerHeight + 1).map(e => e.textContent.trim() + ' ends at ' + Math.round(e.getBoundingClientRect().bottom) + ' of ' + innerHeight)
  })
  expect(below, page.url()).toEqual([])
}

// good is a value in the middle of the good part of the band that the page
// shows, or the hour meter as it was last known.
export async function good(page) {
  const band = page.locator('.bandscale').first()
  if (!await band.count()) return String(await hours(page))
  return band.evaluate(middle)
}

function middle(band) {
  const good = band.querySelector('.band-good'), low = Number(band.dataset.low), high = Number(band.dataset.high)
  const value = low + (high - low) * (Number(good.getAttribute('x')) + Number(good.getAttribute('width')) / 2) / 1000
  return String(value >= 20 ? Math.round(value) : Math.round(value * 100) / 100)
}

async function hours(page) {
  const o = page.url().match(/outings\/[^/?]+/)[0]
  const machine = await page.locator('input[name=machine]').first().inputValue()
  const text = await (await page.request.get(new URL('/machines/' + machine, page.url()).href)).text()
  return meter(text)
}

// meter is what the hour meter says on a machine's page.
function meter(text) { return Number(text.match(/([\d.,]+) h /)[1].replace(',', '.')) }

// hurry brings the page to where its outing first shows what selector names,
// everything in order on the way. The pages between are answered as sent, by
// their forms, but not drawn: for tests of what comes there.
export async function hurry(page, selector) {
  await page.evaluate(`Object.assign(window, { middle: ${middle}, meter: ${meter} })`)
  const url = await page.evaluate(async selector => {
    const read = async (url, more) => {
      const response = await fetch(url, more)
      return { url: response.url, ok: response.ok, doc: new DOMParser().parseFromString(await response.text(), 'text/html') }
    }
    const outing = location.href.match(/.*\/outings\/[^/?]+/)[0]
    let next = null // what the last form led to
    for (let n = 0; n < 400; n++) {
      const { url, doc } = next || await read(outing)
      next = null
      if (doc.querySelector(selector)) return url
      if (url.includes('/verdict')) break
      if (doc.querySelector('.wait-card')) { await new Promise(after => setTimeout(after, 300)); continue }
      const button = doc.querySelector('button[name=choice]') || doc.querySelectorAll('.marks .bar')[2] || doc.querySelector('.entry button.bar.go') || [...doc.querySelectorAll('.question button.bar.go, main button.bar.go')].find(b => b.form)
      const form = button.form, field = name => form.querySelector(`input[name=${name}]`)
      if (url.includes('/ready')) {
        for (const box of form.querySelectorAll('input[type=checkbox]')) box.checked = true
        form.querySelector('input[name=fit]').checked = true
        for (const watched of form.querySelectorAll('input[name=watched][value=yes]')) watched.checked = true
        for (const told of form.querySelectorAll('fieldset.told')) if (!told.querySelector('input:checked')) told.querySelector('input').checked = true
        for (const select of form.querySelectorAll('select')) select.selectedIndex = 1
        if (field('check_in')) field('check_in').value = '03:59'
      }
      if (field('seconds')) field('seconds').value = '0.9'
      if (field('typed')) {
        const band = form.querySelector('.bandscale')
        field('typed').value = band ? window.middle(band) : window.meter((await read('/machines/' + field('machine').value)).doc.body.textContent)
      }
      const sent = await read(form.getAttribute('action'), { method: 'POST', body: new URLSearchParams(new FormData(form, button)) })
      if (!sent.ok) throw new Error(url + ': ' + sent.doc.body.textContent)
      if (/\/(round|do)\b/.test(sent.url) && sent.doc.querySelector('button.bar.go')) next = sent
    }
    throw new Error('nowhere on the way: ' + selector)
  }, selector)
  await page.goto(url)
}

// follow goes through a procedure of every machine of an outing that has it, or through
// what is open, each step answered well. Its forms are sent, its pages not drawn. It
// gives what was asked.
export async function follow(page, outing, procedure) {
  return page.evaluate(async ([outing, procedure]) => {
    const read = async (url, more) => {
      const response = await fetch(url, more)
      return { ok: response.ok, url: response.url, doc: new DOMParser().parseFromString(await response.text(), 'text/html') }
    }
    const asked = [], begun = new Set()
    let next = null // the page that the last answer led to
    for (let n = 0; n < 600; n++) {
      const doc = next || (await read(outing + '/do')).doc
      next = null
      let button = doc.querySelector('.runner .answers button.go')
      if (doc.querySelector('.runner .wait-card')) { await new Promise(after => setTimeout(after, 250)); continue }
      if (button) asked.push(doc.querySelector('h1').textContent.trim())
      else {
        button = [...doc.querySelectorAll(`button[value=${procedure}]`)].find(b => !begun.has(b.form.querySelector('[name=machine]').value))
        if (!button) return asked
        begun.add(button.form.querySelector('[name=machine]').value)
      }
      const sent = await read(button.form.getAttribute('action'), { method: 'POST', body: new URLSearchParams(new FormData(button.form, button)) })
      if (!sent.ok) throw new Error(procedure + ': ' + sent.doc.querySelector('main').textContent)
      if (/\/do\b/.test(sent.url) && sent.doc.querySelector('.runner .answers button.go')) next = sent.doc
    }
    throw new Error(procedure + ' has no end')
  }, [outing, procedure])
}

// halt gives a result that stops the machine, and says that it is so.
export async function halt(page, walker, result = 'bad') {
  const runs = page.locator('[data-first] > button')
  if (await runs.count() && await runs.isVisible()) await walker.press(runs)
  const sure = page.locator('details.sure', { has: page.locator(`button[value=${result}]`) })
  await walker.press(sure.locator('summary'))
  await expect(sure.locator(`form[action$="/test"] button[value=${result}]`)).toBeInViewport()
  await walker.moved(() => walker.press(sure.locator(`form[action$="/test"] button[value=${result}]`)))
}

// takeOut takes a machine out from its page. Who has another outing keeps both.
export async function takeOut(page, walker) {
  await walker.moved(() => walker.press(page.locator('form[action$="/outing"] button.bar.go')))
  const both = page.locator('.mine form button')
  if (await both.count()) await walker.moved(() => walker.press(both))
}

// kindOf says which kind of page of an outing is up: what it asks with, not what about.
export async function kindOf(page) {
  return page.url().replace(/.*outings\/[^/]+|\?.*/g, '') + await page.evaluate(() =>
    ['.entry', '.marks', '.stopwatch', '.bandscale', '.wait-card', '.question svg', '.not-sound', 'button[name=choice]', '.right-now', '.told'].filter(c => document.querySelector(c)))
}

// Walker goes through an outing as a hand would, one stop at a time, and
// counts the taps.
export class Walker {
  constructor(page, tap) { this.page = page; this.taps = 0; this.tap = tap || (l => l.tap()) ; this.seen = new Set() }

  async press(locator) { this.taps++; await this.tap(locator) }

  async moved(act) {
    const before = await this.page.evaluate(() => { window.__here = true })
    void before
    await act()
    await this.page.waitForFunction(() => !window.__here)
    await this.page.waitForLoadState('domcontentloaded')
  }

  // step answers what the page asks for, as in order.
  async step() {
    const page = this.page
    if (page.url().includes('/ready')) {
      await this.press(page.locator('label.choice').first())
      for (const watched of await page.locator('label.choice:has(input[name=watched][value=yes])').all()) await this.press(watched)
      for (const told of await page.locator('fieldset.told:not(:has(input:checked))').all()) await this.press(told.locator('label.choice').first())
      await this.press(page.locator('label.choice.all'))
      for (const label of await page.locator('label.choice:has(input[name=clear_of])').all()) await this.press(label)
      if (await page.locator('select[name=company]').count()) { this.taps++; await page.locator('select[name=company]').selectOption({ index: 1 }) }
      if (await page.locator('input[name=check_in]').count()) { this.taps++; await page.locator('input[name=check_in]').fill('03:59') }
      return this.moved(() => this.press(page.locator('button.bar.go')))
    }
    if (page.url().includes('/round')) return this.round()
    if (page.url().includes('/do')) return this.doing()
    if (await page.locator('button[name=choice]').count()) return this.moved(() => this.press(page.locator('button[name=choice]').first()))
    if (await page.locator('.marks').count()) return this.moved(() => this.press(page.locator('.marks .bar').nth(2)))
    if (await page.locator('.entry').count()) {
      const value = await good(page)
      for (const digit of value) await this.key(digit)
      return this.moved(() => this.press(page.locator('.entry button.bar.go')))
    }
    return this.moved(() => this.press(page.locator('.question button.bar.go').first()))
  }

  // doing answers the step that is up of a procedure, or waits with it.
  async doing() {
    if (await this.page.locator('.wait-card').count()) {
      await this.page.waitForTimeout(500)
      return this.page.goto(this.page.url())
    }
    return this.moved(() => this.press(this.page.locator('.answers button.bar.go').first()))
  }

  async key(digit) { await this.tap(this.page.locator(`.keypad [data-key="${digit}"]`)) }

  async round() {
    const page = this.page
    if (await page.locator('.wait-card').count()) { // an engine that warms up
      await page.waitForTimeout(500)
      await page.reload()
      return
    }
    const runs = page.locator('[data-first] > button')
    if (await runs.count() && await runs.isVisible()) await this.press(runs)
    if (await page.locator('input[name=seconds]').count()) {
      const taps = page.locator('.stopwatch')
      await this.press(taps.locator('button[data-start]'))
      await page.waitForTimeout(900)
      // A time clear of its limit is the answer.
      if (await taps.evaluate(e => Number(e.dataset.below || 0) > 1.2)) return this.moved(() => this.press(taps.locator('button[data-start]')))
      await this.press(taps.locator('button[data-start]'))
    }
    return this.moved(() => this.press(page.locator('.question form button.bar.go').first()))
  }

  // each looks at every kind of page once, every at all of them.
  async until(where, each = async () => {}, every = async () => {}) {
    for (let n = 0; n < 240 && !where(this.page.url()); n++) {
      const kind = await kindOf(this.page)
      if (!this.seen.has(kind)) { this.seen.add(kind); await each() }
      await every(this.page)
      await this.step()
    }
  }
}

// proveRepair goes through what a repair asks to be looked at and tested again, and
// signs it.
export async function proveRepair(page) {
  const walker = new Walker(page, l => l.click())
  await walker.until(url => url.includes('/verdict'))
  await Promise.all([page.waitForNavigation(), page.locator('form[action$="/sign"] button').click()])
  await expect(page.locator('.go-card')).toContainText(/Back in service|De vuelta en servicio/)
}
