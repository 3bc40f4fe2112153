// Takes the pictures of docs/screenshots from a fresh demo yard, as it stands
// at twenty to eight in the morning. Names given as arguments limit it to
// those pictures.
import { chromium } from '@playwright/test'
import { executablePath } from '../e2e/browser.mjs'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { follow, start, signIn, takeOut, Walker } from '../e2e/yard.mjs'

const only = process.argv.slice(2)
const folder = process.env.SHOTS || 'docs/screenshots'
const dir = mkdtempSync(join(tmpdir(), 'vespers-shots-'))
mkdirSync(folder, { recursive: true })
const yard = await start(join(dir, 'yard'), '--time', '07:40', '--fast', '10')
const browser = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] })

const tablet = { width: 1280, height: 800 }, phone = { width: 390, height: 844 }

// device is a page of its own, signed in.
async function device(who, viewport = tablet, more = {}) {
  const context = await browser.newContext({ baseURL: yard.address, viewport, locale: 'en-GB', ...more })
  const page = await context.newPage()
  if (who) await signIn(page, who)
  return page
}

async function shot(page, name, options = {}) {
  if (only.length && !only.includes(name)) return
  await page.evaluate(() => document.fonts.ready)
  await page.screenshot({ path: join(folder, name + '.png'), ...options })
  console.log(name)
}

// until walks on, everything in order, to the point with this id.
async function until(page, walker, point) {
  for (let n = 0; n < 60; n++) {
    const asked = page.locator('.answer-form input[name=check]')
    if (await asked.count() && await asked.first().inputValue() === point) return
    await walker.step()
  }
}

async function take(page, machine) {
  await page.goto('/machines/' + machine)
  const walker = new Walker(page, l => l.click())
  await takeOut(page, walker)
  return walker
}

try {
  const lead = await device('maren')
  await shot(lead, 'yard')
  await lead.goto('/day')
  await shot(lead, 'day')
  const press = locator => Promise.all([lead.waitForNavigation(), locator.click()])
  await lead.goto('/muster')
  for (const name of ['Jonah', 'Ruth']) await press(lead.locator('form[action="/muster/here"] button', { hasText: name }))
  await lead.locator('summary', { hasText: 'Say quiet hours' }).click()
  for (const [name, typed] of [['from', '10:30'], ['until', '11:30'], ['what', 'Burial, lower terrace']]) await lead.locator(`input[name=${name}]`).fill(typed)
  await press(lead.locator('form[action="/muster/quiet"] button'))
  for (const [machine, who] of [['Verger', 'Inés'], ['Sexton', 'Jonah']]) {
    await lead.locator('summary', { hasText: `Give ${machine} to` }).click()
    await press(lead.locator('details[open] button', { hasText: who }))
  }
  await shot(lead, 'muster', { fullPage: true, clip: { x: 0, y: 0, width: 1280, height: 1250 } })
  await lead.goto('/ground?machine=cantor')
  await shot(lead, 'ground')
  await lead.goto('/machines/beadle')
  await shot(lead, 'machine-on-halt')
  await lead.goto('/wall')
  await shot(lead, 'proof')
  const night = await device('tobias', tablet, { colorScheme: 'dark' })
  await night.goto('/machines/cantor')
  await night.goto(await night.locator('a.bar.go').getAttribute('href') + '/happened')
  await night.locator('.happening > summary', { hasText: 'struck' }).click()
  await shot(night, 'happened-lantern')

  const technician = await device('ruth')
  await technician.goto('/defects')
  await shot(technician, 'desk')
  await technician.goto('/machines/beadle')
  await technician.locator('.defects a').first().click()
  await technician.locator('a[href$="/find"]').click()
  await technician.waitForURL('**/find')
  await shot(technician, 'find')
  const trainee = await device('jonah')
  await trainee.goto('/machines/verger/bench')
  await trainee.locator('.rung').first().waitFor()
  await trainee.getByRole('button', { name: 'Turn the key' }).click()
  await trainee.locator('.control', { hasText: 'Blade switch' }).getByRole('button', { name: 'on', exact: true }).click()
  await trainee.locator('.rung').last().getByText('yes').waitFor()
  await trainee.evaluate(() => window.scrollTo(0, 0))
  await trainee.waitForTimeout(400)
  await shot(trainee, 'bench')

  const page = await device('tobias')
  const walker = await take(page, 'verger')
  await walker.step()
  await until(page, walker, 'wheel_right_rear')
  await page.locator('[data-digits]').pressSequentially('12.4')
  await shot(page, 'walk-reading')
  await page.locator('[data-digits]').fill('')
  await walker.until(url => url.includes('/round'))
  await walker.step()
  while (!await page.locator('.stopwatch').count()) await walker.step()
  await shot(page, 'round-timed-stop')
  await walker.until(url => url.includes('/verdict'))
  await walker.moved(() => page.locator('.go-card button').click())
  await shot(page, 'released')

  // A model from its paper manual, before it is kept: one part it does not have.
  await lead.goto('/models')
  await lead.locator('.model', { hasText: 'Quire' }).click()
  await lead.locator('input[name=name]').fill('Thrush 250')
  await lead.locator('input[name=manual]').fill('Thrush 250, operator manual T-2500')
  for (const [n, line] of (await lead.locator('[data-figure]').all()).entries()) {
    if (n % 9 === 4) { await line.locator('input[type=checkbox]').check(); continue }
    await line.locator('input.input').nth(0).fill((await line.locator('.kept span').innerText()).match(/[\d.,]+/)[0])
    await line.locator('input.input').nth(1).fill(String(12 + n))
  }
  await lead.locator('.points summary').click()
  const valves = lead.locator('.point-line', { hasText: 'Both back-lap valves' })
  await valves.locator('select').selectOption('not_fitted')
  await valves.locator('input').fill('lapped in the workshop alone')
  await lead.locator('.keep button').click()
  await lead.waitForSelector('.proofs')
  await shot(lead, 'own-model')

  const hand = await device('ines', phone)
  const found = await take(hand, 'ostiary')
  await found.step()
  await until(hand, found, 'chute')
  await hand.locator('.not-sound summary').click()
  await shot(hand, 'fault-phone-es')
  await found.moved(() => hand.locator('button.fault').nth(1).click())
  await hand.goto(hand.url().replace(/walk.*/, 'verdict'))
  await shot(hand, 'halt-phone-es')

  // Last: Cantor is shut down and fuelled, which the other pictures do not show.
  const fuel = await device('tobias', phone, { colorScheme: 'dark' })
  await fuel.goto('/machines/cantor')
  const cantor = (await fuel.locator('a.bar.go').getAttribute('href')).match(/\/outings\/[^/?]+/)[0]
  await follow(fuel, cantor, 'shutdown')
  await fuel.goto(cantor + '/do')
  await fuel.locator('button[value=fuel]').click()
  await fuel.waitForURL('**/do?**')
  while (!await fuel.locator('.wait-card').count()) await Promise.all([fuel.waitForNavigation(), fuel.locator('.answers .bar.go').click()])
  await shot(fuel, 'fuel-wait-phone')

  // Another yard, in its evening: machines on their way home, and the day before its seal.
  const dusk = await start(join(dir, 'dusk'), '--evening')
  try {
    const context = await browser.newContext({ baseURL: dusk.address, viewport: tablet, locale: 'en-GB' })
    const closing = await context.newPage()
    await signIn(closing, 'maren')
    await closing.goto('/evening')
    await shot(closing, 'evening', { fullPage: true, clip: { x: 0, y: 0, width: 1280, height: 1560 } })
    await closing.goto('/vespers')
    await shot(closing, 'closing')
  } finally {
    dusk.server.kill('SIGKILL')
  }
} finally {
  await browser.close()
  yard.server.kill('SIGKILL')
  rmSync(dir, { recursive: true, force: true })
}
