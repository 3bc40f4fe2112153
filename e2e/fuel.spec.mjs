// Fuel in the running program: what the day needs, what goes into a can, what went in;
// and the engine that does not start, the stop that is heard, the strike looked over.
import { test, expect, signIn, accessible, noSidewaysScroll, bigTargets, follow, takeOut, hurry, Walker } from './yard.mjs'
import { executablePath } from './browser.mjs'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'

const phone = { width: 390, height: 844 }, tablet = { width: 1280, height: 800 }
const outingOf = async (page, machine) => {
  await page.goto('/machines/' + machine)
  return (await page.locator('a[href*="/outings/"]').first().getAttribute('href')).match(/\/outings\/[^/?]+/)[0]
}
// local is a moment as a form of the browser has it.
const local = (page, days) => page.locator('input[name=when]').evaluate((field, days) => {
  const at = new Date(field.max + ':00Z')
  at.setUTCDate(at.getUTCDate() + days)
  return at.toISOString().slice(0, 16)
}, days)

test('what cannot have been filled is refused, and what was typed stays; then on record, and put right', async ({ open }) => {
  const page = await open({ viewport: phone, hasTouch: true, colorScheme: 'dark' })
  await signIn(page, 'tobias')
  const outing = await outingOf(page, 'cantor')
  await page.goto(outing + '/fuel')
  for (const look of [accessible, noSidewaysScroll]) await look(page)
  await page.locator('input[name=hours]').first().fill('4')
  await Promise.all([page.waitForURL('**hours=4**'), page.locator('.fuel-sum button').first().tap()])
  await expect(page.locator('.expect')).toContainText(/Fill \d.*\sgal for 4 h/)
  await page.locator('input[name=in]').fill('30')
  await Promise.all([page.waitForURL('**in=30**'), page.locator('.fuel-sum button').first().tap()])
  await expect(page.locator('.problem')).toContainText('more than the tank holds')
  await expect(page.locator('input[name=in]')).toHaveValue('30')
  const form = page.locator('form[method=post][action$="/fuel"]')
  const refused = async (fields, words) => {
    for (const [name, value] of Object.entries(fields)) await form.locator(`[name=${name}]`).evaluate((f, v) => { f.removeAttribute('max'); f.value = v; f.dispatchEvent(new Event('input', { bubbles: true })) }, value)
    await form.locator('button').tap()
    await expect(page.locator('.saving')).toContainText(words)
    for (const [name, value] of Object.entries(fields)) await expect(form.locator(`[name=${name}]`)).toHaveValue(value)
  }
  await refused({ litres: '' }, 'How much went in?')
  await refused({ litres: '9' }, /more than the tank holds: 5\sgal/)
  await refused({ litres: '1', when: await local(page, 1) }, 'still to come')
  await refused({ when: await local(page, -2) }, 'before this outing began')
  await refused({ when: '', can: '2999-01-01' }, 'a day that is still to come')
  await refused({ can: '', hours: '1' }, 'does not run back')
  const meter = Number((await form.locator('label', { has: page.locator('[name=hours]') }).textContent()).match(/[\d.]+/)[0])
  await refused({ hours: String(meter + 40) }, 'faster than the clock')
  await form.locator('[name=hours]').fill('')
  await form.locator('[name=to_mark]').check()
  await Promise.all([page.waitForNavigation(), form.locator('button').tap()])
  await expect(page.locator('.fuel-log li')).toHaveCount(1)
  await expect(page.locator('.fuel-log')).toContainText(/1\sgal, to the mark/)
  await expect(page.locator('main')).toContainText(/5\sgal in the tank/)
  await accessible(page)
  await page.locator('.fuel-log a').tap()
  await expect(form.locator('[name=litres]')).toHaveValue('1')
  await form.locator('[name=litres]').fill('0.5')
  await Promise.all([page.waitForNavigation(), form.locator('button').tap()])
  await expect(page.locator('.fuel-log li')).toHaveCount(1)
  await expect(page.locator('.fuel-log')).toContainText(/0\.5\sgal/)
  await page.goto('/machines/cantor')
  await expect(page.locator('main')).toContainText(/5\sgal in the tank/)
})

test('a can of mix, in Spanish: computed, and refused where it cannot be', async ({ page }) => {
  await signIn(page, 'ines')
  await page.goto('/machines/lector')
  await takeOut(page, new Walker(page, l => l.click()))
  const outing = page.url().match(/\/outings\/[^/?]+/)[0]
  await page.goto(outing + '/fuel')
  await accessible(page)
  const mix = async (has, at, total) => {
    for (const [name, value] of Object.entries({ has, at, total })) await page.locator(`[name=${name}]`).fill(value)
    await page.locator('.fuel-sum').last().locator('button').click()
    await page.waitForURL('**total=' + total)
  }
  await mix('', '', '5')
  await expect(page.locator('.expect')).toContainText('98 mL de aceite')
  await mix('2', '0', '5')
  await expect(page.locator('.problem')).toContainText('de 1 a 200 partes')
  await expect(page.locator('[name=at]')).toHaveValue('0')
  await mix('4', '25', '4')
  await expect(page.locator('.problem')).toContainText('no cabe en tan poco')
})

test.describe(() => {
  test.use({ fast: 10, time: '07:40' })

  test('it does not start: tries are counted, the starter rests, then it runs; struck, looked over, and on', async ({ open }) => {
    const page = await open({ viewport: tablet }), walker = new Walker(page, l => l.click())
    await signIn(page, 'maren')
    await page.goto('/machines/verger')
    await takeOut(page, walker)
    await hurry(page, 'form[action$="/do/begin"] button[value=start]')
    await accessible(page)
    await walker.moved(() => walker.press(page.locator('button[value=start]')))
    await expect(page.locator('h1')).toHaveText('Under the open sky?')
    await hurry(page, 'button[name=did][value=no]')
    await expect(page.locator('.step-numbers')).toContainText(/Longest crank: 5\ss/)
    await expect(page.locator('main')).not.toContainText('elt on') // it is off, so that the seat can be tried
    for (const look of [accessible, noSidewaysScroll, bigTargets]) await look(page)
    const other = await open({ viewport: phone })
    await signIn(other, 'maren')
    await other.goto(page.url())
    await walker.moved(() => walker.press(page.locator('.answers button[value=no]')))
    await expect(page.locator('main')).toContainText('Tries so far: 1, of 4 at most')
    await expect(page.locator('.wait-card')).toContainText(/Wait until \d\d:\d\d/)
    await accessible(page)
    // A page that was open before does not get round the rest.
    await other.locator('.answers button[value=yes]').click()
    await expect(other.locator('.saving')).toContainText('already')
    await hurry(page, 'input[name=test]')
    await expect(page.locator('main')).not.toContainText('Tries so far')
    await hurry(page, 'form[action$="/release"]')
    const outing = page.url().match(/\/outings\/[^/?]+/)[0]
    await walker.moved(() => walker.press(page.locator('form[action$="/release"] button.go')))
    await page.goto(outing + '/happened')
    await page.locator('.happening > summary', { hasText: 'It struck something' }).click()
    await page.locator('.happening[open] button.bad').click()
    await page.waitForURL('**/do?**')
    await follow(page, outing, 'none')
    await page.goto(outing + '/do')
    await expect(page.locator('.problem')).toContainText('Look over what that may have harmed')
    for (const look of [accessible, noSidewaysScroll]) await look(page)
    await walker.moved(() => walker.press(page.getByRole('button', { name: 'Look it over now' })))
    await expect(page.locator('.where')).toContainText('After: It struck something')
    await accessible(page)
    let points = 0
    while (page.url().includes('/break')) {
      points++
      const marks = page.locator('.marks .bar'), typed = page.locator('input[name=typed]')
      if (await typed.count()) {
        await typed.fill(await page.evaluate(() => document.querySelector('.bandscale').dataset.high))
        await walker.moved(() => page.locator('.entry .bar.go').click())
      } else await walker.moved(() => (page.locator('.answer-form .bar.go').or(marks.nth(2))).first().click())
    }
    expect(points).toBeGreaterThan(3)
    await page.goto(outing + '/do')
    await expect(page.locator('.halt-banner')).toHaveCount(0)
    await expect(page.locator('button[value=shutdown], button[value=start]').first()).toBeVisible()
  })
})

// sound is an engine that runs, a second and a half in which it runs down, and
// quiet: 16 bits, one channel.
const runs = 11 // seconds until it runs down, in one and a half
function sound() {
  const rate = 16000, n = rate * 40, wav = Buffer.alloc(44 + 2 * n)
  wav.write('RIFF', 0); wav.writeUInt32LE(36 + 2 * n, 4); wav.write('WAVEfmt ', 8)
  wav.writeUInt32LE(16, 16); wav.writeUInt16LE(1, 20); wav.writeUInt16LE(1, 22); wav.writeUInt32LE(rate, 24); wav.writeUInt32LE(2 * rate, 28)
  wav.writeUInt16LE(2, 32); wav.writeUInt16LE(16, 34); wav.write('data', 36); wav.writeUInt32LE(2 * n, 40)
  let seed = 1
  for (let i = 0; i < n; i++) {
    seed = (seed * 1103515245 + 12345) % 2147483648
    const t = i / rate, loud = t < runs ? 1 : t < runs + 1.5 ? (runs + 1.5 - t) / 1.5 : 0
    wav.writeInt16LE(Math.round((seed / 1073741824 - 1) * (12000 * loud ** 2 + 40)), 44 + 2 * i)
  }
  return wav
}

test.describe(() => {
  test.use({ fast: 10 })

  test('a stop is heard: the mark where it has run down, taken by a tap; without a microphone the taps stay', async ({ yard }) => {
    const dir = mkdtempSync(join(tmpdir(), 'vespers-')), file = join(dir, 'engine.wav')
    writeFileSync(file, sound())
    const args = ['--no-sandbox', '--disable-gpu', '--use-fake-ui-for-media-stream', '--use-fake-device-for-media-stream', `--use-file-for-fake-audio-capture=${file}%noloop`]
    const browser = await chromium.launch({ executablePath, args })
    try {
      const page = await browser.newPage({ baseURL: yard.address, viewport: tablet })
      await signIn(page, 'maren')
      await page.goto('/machines/verger')
      await takeOut(page, new Walker(page, l => l.click()))
      await hurry(page, 'input[name=seconds]')
      const away = []
      page.on('request', r => away.push(r.url()))
      const listened = Date.now()
      await page.getByRole('button', { name: 'Listen for the stop' }).click()
      await expect(page.locator('.level-line')).toHaveAttribute('d', /L/)
      await accessible(page)
      const run = page.locator('[data-first] > button')
      if (await run.count()) await run.click()
      await page.waitForTimeout(1500)
      await page.getByRole('button', { name: 'Tap as you do it' }).click()
      const left = runs + 1.5 - (Date.now() - listened) / 1000 // it still runs for so long
      expect(left).toBeGreaterThan(2)
      const take = page.getByRole('button', { name: 'Heard: take' })
      await expect(take).toBeVisible({ timeout: 25000 })
      await take.click()
      const seconds = Number(await page.locator('input[name=seconds]').inputValue())
      expect(Math.abs(seconds - left)).toBeLessThan(2.6) // the tap itself comes late on a busy machine
      expect(away.filter(url => !url.endsWith('icon.svg'))).toEqual([]) // nothing of it has left the device
      await expect(page.locator('button[name=result][value=good]')).toBeVisible() // and the person answers
    } finally {
      await browser.close()
      rmSync(dir, { recursive: true, force: true })
    }
    const deaf = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu'] })
    try {
      const page = await deaf.newPage({ baseURL: yard.address, viewport: phone })
      await signIn(page, 'maren')
      await page.goto(await outingOf(page, 'verger') + '/round')
      await page.getByRole('button', { name: 'Listen for the stop' }).click()
      await expect(page.getByText('may not listen here')).toBeVisible()
      await expect(page.getByRole('button', { name: 'Tap as you do it' })).toBeVisible()
      for (const look of [accessible, noSidewaysScroll]) await look(page)
    } finally { await deaf.close() }
  })
})

test('a wait on the lock screen, where the person asks for it', async ({ open }) => {
  const page = await open({ viewport: phone })
  await page.clock.install()
  await page.addInitScript(() => {
    window.lines = []
    window.Notification = { permission: sessionStorage.getItem('asked') || 'default', requestPermission: async () => { window.Notification.permission = 'granted'; sessionStorage.setItem('asked', 'granted') } }
    const worker = { register: async url => { window.worker = String(url); return { showNotification: async (title, { body, silent }) => { window.lines.push([title, body, silent].join(' | ')); localStorage.setItem('said', (localStorage.getItem('said') || '') + body + '; ') } } } }
    Object.defineProperty(navigator, 'serviceWorker', { value: worker })
  })
  await signIn(page, 'tobias')
  const outing = await outingOf(page, 'cantor')
  await page.goto(outing + '/do')
  await page.locator('button[value=shutdown]').click()
  const step = page.locator('.answers .bar.go'), wait = page.locator('.wait-card')
  while (await step.or(wait).first().waitFor().then(() => step.count())) {
    const was = await page.locator('h1').textContent()
    await step.click()
    await page.waitForFunction(was => document.querySelector('h1') && document.querySelector('h1').textContent !== was, was)
  }
  expect(await page.evaluate(() => window.lines)).toEqual([]) // nobody asked for it
  await page.getByRole('button', { name: 'Tell me on the lock screen too' }).click()
  await expect.poll(() => page.evaluate(() => window.lines.join())).toMatch(/^Cantor: Throttle low: let it idle \| Wait until \d\d:\d\d \| true$/)
  await expect(page.getByRole('button', { name: 'Tell me on the lock screen too' })).toBeHidden()
  const worker = await page.request.get(await page.evaluate(() => window.worker))
  expect(worker.headers()['content-type']).toContain('javascript')
  // When it is over a second line says so.
  await page.clock.runFor(65000)
  await expect.poll(() => page.evaluate(() => localStorage.getItem('said')).catch(() => '')).toContain('The wait is over.; ')
})
