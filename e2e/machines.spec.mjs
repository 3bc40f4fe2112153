// Whole outings of every kind of machine.
import { follow, test, expect, signIn, accessible, noSidewaysScroll, bigTargets, good, start, filledYard, hurry, takeOut, kindOf, Walker, pins } from './yard.mjs'

test.use({ fast: 60 })
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const tablet = { width: 1280, height: 800 }, phone = { width: 390, height: 844 }

// Whole outings of three kinds of machine, in either language, on tablet and phone
// (families.spec.mjs has a short day of the others), with a fault and its photo and a reading taken twice on the way; then the next
// one, with the machine still warm.
const outings = [
  { machine: 'crozier', what: 'tractor with boom mower', who: 'tobias', viewport: tablet, limit: '10°', fault: ['head_guards', 'one_chain'], warm: true, axe: true },
  { machine: 'apparitor', what: 'disc chipper', who: 'ines', viewport: phone, limit: '5°', fault: ['feed_control', 'stiff'], warm: true, axe: true },
  { machine: 'lector', what: 'chainsaw', who: 'ines', viewport: tablet, limit: '25°', fault: ['bar_rails', 'burr'], once: true },
]

const picture = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAgAAAAICAIAAABLbSncAAAAEUlEQVR4nGNoSHDAihiGlgQAMmxIAVDoDUIAAAAASUVORK5CYII=', 'base64')

// outOfLimits is a value beyond the good part of the band that the page shows,
// or nothing where the band does not reach beyond it.
const outOfLimits = page => page.locator('.bandscale').first().evaluate(e => {
  const good = e.querySelector('.band-good'), from = Number(good.getAttribute('x')), to = from + Number(good.getAttribute('width'))
  const low = Number(e.dataset.low), high = Number(e.dataset.high)
  if (from > 60) return String(Math.round((low + (high - low) * from / 2000) * 10) / 10)
  if (to < 940) return String(Math.round((low + (high - low) * (to + 1000) / 2000) * 10) / 10)
  return ''
})

for (const o of outings) {
  test(`an outing of a ${o.what}, with a fault, its photo and a reading taken twice; then warm`, async ({ browser }) => {
    const dir = mkdtempSync(join(tmpdir(), 'vespers-'))
    // Before four it is still yesterday: what is looked at daily is due again after.
    const db = await filledYard(dir, '00:20'), began = Date.now(), fast = 40
    const morning = await start(db, '--time', '00:20', '--fast', String(fast))
    const context = await browser.newContext({ baseURL: morning.address, viewport: o.viewport, hasTouch: true })
    const page = await context.newPage()
    const problems = []
    page.on('pageerror', e => problems.push(e.message))
    await signIn(page, o.who)
    await page.goto('/machines/' + o.machine)
    const walker = new Walker(page)
    await takeOut(page, walker)
    const outing = page.url().match(/\/outings\/[^/?]+/)[0]
    await expect(page.locator('.signals li')).toHaveCount(o.machine === 'crozier' ? 8 : 4)
    let pictured = false, twice = false
    // onTheWay does what this test is about, where the walk has come to it.
    const onTheWay = async () => {
      const check = page.locator('.answer-form input[name=check]')
      if (!page.url().includes('/walk') || !await check.count()) return false
      const point = await check.first().inputValue()
      if (!pictured && point === o.fault[0]) {
        await page.locator('.not-sound summary').click()
        const choice = page.locator(typeof o.fault[1] === 'number' ? 'button.fault' : `button.fault[value=${o.fault[1]}]`).first()
        await walker.moved(() => choice.click())
        await page.goto(`${outing}/walk?machine=${o.machine}&point=${point}`)
        await page.locator('details.again summary').first().click()
        await page.locator('input[type=file]').setInputFiles({ name: 'fault.png', mimeType: 'image/png', buffer: picture })
        await walker.moved(() => page.locator('form[action$=photo] button.bar.go').click())
        await expect(page.locator('.noted img')).toBeVisible()
        await noSidewaysScroll(page)
        pictured = true
        await page.goto(outing)
        return true
      }
      if (!twice && !o.once && await page.locator('.bandscale').count() && !await page.locator('.stopwatch').count()) {
        const wrong = await outOfLimits(page), machine = await page.locator('input[name=machine]').first().inputValue()
        const item = await page.locator('.answer-form input[name=item]').inputValue()
        if (!wrong) return false
        const right = await good(page)
        await page.locator('.answer-form input[name=typed]').fill(wrong)
        await walker.moved(() => page.locator('.answer-form button.bar.go').click())
        await page.goto(`${outing}/walk?machine=${machine}&point=${point}&item=${item}`)
        const again = page.locator('details.again', { has: page.locator('.entry') })
        await again.locator('summary').click()
        await again.locator('input[name=typed]').fill(right)
        await walker.moved(() => again.locator('button.bar.go').click())
        await page.goto(`${outing}/walk?machine=${machine}&point=${point}&item=${item}`)
        await expect(page.locator('.given')).toContainText(/the (first|second) time|la (primera fue|segunda vez)/i)
        // Where safety hangs on it the worse counts, until it is put right.
        const put = page.locator('.right-now')
        if (await put.count()) {
          await put.locator('input[name=typed]').fill(right)
          await walker.moved(() => put.locator('button.bar.go').click())
        }
        twice = true
        await page.goto(outing)
        return true
      }
      return false
    }
    for (let n = 0; n < 250 && !page.url().includes('/verdict'); n++) {
      if (await onTheWay()) continue
      const kind = await kindOf(page)
      if (!walker.seen.has(kind)) {
        walker.seen.add(kind)
        if (o.axe) await accessible(page) // the pages are the same for the others
        await noSidewaysScroll(page)
        await bigTargets(page)
      }
      if (!page.url().includes('/verdict')) await walker.step()
    }
    expect([pictured, twice || o.once]).toEqual([true, true])
    await walker.moved(() => walker.press(page.locator('.go-card button')))
    await expect(page.locator('.go-card h1')).toHaveText(o.who === 'ines' ? 'Salida autorizada' : 'Released')
    await expect(page.locator('.uses .yes').first()).toContainText(o.limit)
    await expect(page.locator('.defects li')).toHaveCount(1)
    console.log(`taps, ${o.what}: ${walker.taps}, digits aside`)
    if (o.machine === 'lector') expect(walker.taps).toBeLessThan(37)
    if (o.machine === 'crozier') {
      await page.goto('/yard')
      await expect(page.locator('.bay.out', { hasText: 'Archdeacon' })).toBeVisible()
    }
    // It works, is shut down and put away, each step asked once.
    const day = []
    for (const procedure of ['work', 'shutdown', 'clean', 'grease', 'store']) day.push(await follow(page, outing, procedure))
    expect(day[1].length).toBeGreaterThan(2)
    expect(day[2].length + day[3].length).toBeGreaterThan(3)
    console.log(`steps, ${o.what}: work, shutdown, clean, grease, store ${day.map(asked => asked.length)}`)
    await page.goto(outing + '/do')
    await expect(page.locator('form[action$="/end"] button')).toBeVisible()
    // The same yard, after four in the morning: it comes home and goes out again.
    morning.server.kill('SIGKILL')
    const minutes = Math.max(4 * 60 + 5, 20 + Math.ceil((Date.now() - began) * fast / 60000) + 25)
    const later = await start(db, '--time', String(Math.floor(minutes / 60)).padStart(2, '0') + ':' + String(minutes % 60).padStart(2, '0'))
    try {
      const at = path => later.address + path
      await page.goto(at('/sign-in/' + o.who)) // so long without a tap: who is it?
      await page.locator('#pin').fill(pins[o.who])
      await page.locator('#pin').press('Enter')
      await page.waitForURL('**/yard')
      await page.goto(at(outing + '/verdict'))
      await walker.moved(() => page.locator('form[action$="/end"] button').click())
      await page.goto(at('/machines/' + o.machine))
      await takeOut(page, walker)
      await hurry(page, o.warm ? '.ring' : '.ring, .rung')
      await expect(page.locator('.ring')).toHaveCount(o.warm ? 1 : 0)
      if (o.warm) await expect(page.locator('[role=timer]')).toContainText(/^\d+:\d\d$/)
    } finally { later.server.kill('SIGKILL') }
    expect(problems).toEqual([])
    await context.close()
    rmSync(dir, { recursive: true, force: true })
  })
}

test('a file that is no picture, a photo with a note, a second measurement', async ({ page }) => {
  await signIn(page, 'tobias')
  await page.goto('/me')
  await page.locator('input[name=units][value=metric]').check()
  await page.locator('button.bar.go').click()
  await page.goto('/machines/verger')
  const walker = new Walker(page, l => l.click())
  await takeOut(page, walker)
  const point = id => hurry(page, `.answer-form input[name=check][value=${id}]`)

  await point('castors')
  await page.locator('.not-sound summary').click()
  await walker.moved(() => page.locator('button.fault', { hasText: 'Dry, squeaks' }).click())
  await page.goto(page.url().replace(/\?.*/, '') + '?machine=verger&point=castors')
  await page.locator('details.again summary', { hasText: 'photo' }).click()
  await page.locator('input[type=file]').setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture at all') })
  await page.locator('button', { hasText: 'Keep it' }).click()
  await expect(page.locator('.saving.bad:visible')).toContainText('not a JPEG or PNG')
  await page.locator('input[type=file]').setInputFiles({ name: 'tyre.png', mimeType: 'image/png', buffer: await page.screenshot() })
  await page.locator('.again input[name=note]').fill('Inner edge of the left one')
  await walker.moved(() => page.locator('button', { hasText: 'Keep it' }).click())
  await expect(page.locator('.noted img')).toBeVisible()
  expect(await page.locator('.noted img').evaluate(async i => { await i.decode(); return i.naturalWidth })).toBeGreaterThan(600)
  await expect(page.locator('.noted')).toContainText('Inner edge')
  await accessible(page)
  await page.goto(page.url().replace(/\?.*/, ''))
  await point('wheel_right_rear')
  await page.locator('.answer-form input[name=typed]').fill('60')
  await walker.moved(() => page.locator('.answer-form button.bar.go').click())
  await page.locator('details.again summary', { hasText: 'Measure once more' }).click()
  await page.locator('details.again .entry input[name=typed]').fill('94')
  await walker.moved(() => page.locator('details.again .entry button.bar.go', { hasText: 'Take this reading' }).click())
  await page.goto(page.url().replace(/\?.*/, '') + '?machine=verger&point=wheel_right_rear&item=pressure')
  await expect(page.locator('.given')).toContainText('60 kPa')
  await expect(page.locator('.given')).toContainText('The second time it was 94 kPa')
  await page.goto(page.url().replace(/\?.*/, ''))

  await page.goto('/machines/verger')
  await page.locator('.defects a').first().click()
  await expect(page.locator('.noted img')).toBeVisible()
  await accessible(page)
})

test.describe('after a night of work', () => {
test.use({ time: '04:45' }) // Cantor went out before four, which was yesterday
test('a machine that comes home warm: what must be cold waits, with the time', async ({ open, yard }) => {
  const page = await open()
  await signIn(page, 'tobias')
  await page.goto('/machines/cantor') // out since an hour and a half
  await page.locator('a.bar.go').click()
  await follow(page, page.url().match(/\/outings\/[^/?]+/)[0], 'shutdown')
  await page.reload()
  await page.getByText('It is back in its bay').click()
  await expect(page.getByText('This outing has ended')).toBeVisible()
  await page.goto('/machines/cantor')
  await expect(page.locator('.text-side')).toContainText(/Worked until \d\d:\d\d: warm until about/)
  const walker = new Walker(page, l => l.click())
  await takeOut(page, walker)
  await hurry(page, '.ring')
  await expect(page.locator('h1')).toContainText('Hydraulic oil')
  await expect(page.locator('.wait-card')).toContainText(/from \d\d:\d\d on/)
  await expect(page.locator('[role=timer]')).toContainText(/^\d+:\d\d$/)
  await accessible(page)
  await page.goto(page.url().replace(/walk.*/, 'verdict'))
  await expect(page.locator('.wait-card')).toContainText('Hydraulic oil')
})
})

test("a trainee's outing is released by a second person's PIN", async ({ page }) => {
  await signIn(page, 'jonah')
  await page.goto('/machines/verger')
  const walker = new Walker(page, l => l.click())
  await takeOut(page, walker)
  await hurry(page, 'select[name=second]')
  await accessible(page)
  await page.locator('select[name=second]').selectOption({ label: 'Tobias Fennimar' })
  await page.locator('.second input[name=pin]').fill('0000')
  await page.locator('.second button.bar.go').click()
  await expect(page.locator('.problem')).toContainText('not the right PIN')
  await page.goBack()
  await page.locator('select[name=second]').selectOption({ label: 'Tobias Fennimar' })
  await page.locator('.second input[name=pin]').fill(pins.tobias)
  await page.locator('.second button.bar.go').click()
  await expect(page.locator('.go-card h1')).toHaveText('Released')
  expect(await page.evaluate(() => JSON.stringify(localStorage))).not.toContain(pins.tobias)
})

test('a lead writes down what was shown; the gate opens', async ({ page, open }) => {
  const hand = await open()
  await signIn(hand, 'lucia')
  await hand.goto('/machines/chorister')
  const walker = new Walker(hand, l => l.click())
  await takeOut(hand, walker)
  await walker.step()
  await hand.goto(hand.url().replace(/walk.*/, 'ready'))
  await expect(hand.locator('.missing')).toContainText('Lychgate 120')
  await expect(hand.locator('.missing')).toContainText('sin práctica')
  await signIn(page, 'maren')
  await page.goto('/people')
  await expect(page.locator('.missing')).toContainText('Tobias Fennimar')
  const lucia = page.locator('.crew > li', { hasText: 'Lucía' })
  await lucia.locator('summary').click()
  await lucia.locator('form[action$=qualification] select[name=sheet]').selectOption({ label: 'Lychgate 120 sweeper' })
  await lucia.locator('form[action$=qualification] button').click()
  await expect(page.locator('.crew > li', { hasText: 'Lucía' })).toContainText('Lychgate 120 sweeper: practice, seen by Maren Oduvale')
  await page.locator('.crew > li', { hasText: 'Lucía' }).locator('summary').click()
  const manuals = page.locator('.crew > li', { hasText: 'Lucía' }).locator('form[action$=manual] select')
  await manuals.selectOption(await manuals.locator('option', { hasText: 'Lychgate 120 sweeper' }).getAttribute('value'))
  await page.locator('.crew > li', { hasText: 'Lucía' }).locator('form[action$=manual] button').click()
  await hand.reload()
  await walker.moved(() => hand.locator('main button.bar.go').click())
  await hand.goto(hand.url().replace(/walk.*/, 'ready'))
  await expect(hand.locator('.missing')).toHaveCount(0)
})

test('a look round at the break, and what it finds stops a machine that is out', async ({ open }) => {
  const page = await open({ viewport: { width: 390, height: 844 } })
  await signIn(page, 'tobias')
  await page.goto('/machines/cantor')
  await page.locator('a.bar.go').click()
  const walker = new Walker(page, l => l.click())
  await walker.moved(() => page.getByRole('button', { name: 'Look round again' }).click())
  await accessible(page)
  await noSidewaysScroll(page)
  await bigTargets(page)
  let points = 0
  while (page.url().includes('/break')) {
    await walker.step() // a look, or a reading where one is taken today
    points++
  }
  expect(points).toBeGreaterThan(1)
  expect(points).toBeLessThan(10)
  await expect(page.locator('.go-card h1')).toHaveText('Released')
  await expect(page.locator('.note').last()).toContainText('Looked round at a break by Tobias')
  await walker.moved(() => page.getByRole('button', { name: 'Look round again' }).click())
  await page.locator('.not-sound summary').click()
  await page.locator('.not-sound input[name=note]').fill('Struck a kerb by the pond')
  await walker.moved(() => page.locator('button.fault').last().click())
  await page.goto(page.url().replace('break', 'verdict'))
  await expect(page.locator('.defects')).toContainText(/Halt|Mend/)
  await page.goto('/machines/cantor')
  await expect(page.locator('.defects li')).toHaveCount(1)
})
