// A yard taken away and made anew; a lead's duties handed over; the technician's list.
import { test, expect, signIn, start, accessible, noSidewaysScroll } from './yard.mjs'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

test.use({ time: '' }) // what is made anew goes by the machine's own clock

const tablet = { width: 1280, height: 800 }, phone = { width: 390, height: 844 }
const looks = async page => { for (const look of [accessible, noSidewaysScroll]) await look(page) }
const vespers = (...args) => execFileSync('bin/vespers', args, { encoding: 'utf8' })

test('taken away, made anew in an empty file, and every page says the same', async ({ open, yard, browser }) => {
  const lead = await open({ viewport: tablet })
  await signIn(lead, 'maren')
  await lead.goto('/find')
  await looks(lead)
  const outings = await lead.locator('.past a').evaluateAll(list => list.map(a => a.getAttribute('href')))
  const defects = await lead.locator('.defects a').evaluateAll(list => list.map(a => a.getAttribute('href')))
  expect(outings.length).toBeGreaterThan(5)
  const pages = ['/yard', '/yard/list', '/defects', '/find', '/wall', '/patterns', '/people', '/rules', '/machines/verger', '/machines/precentor', ...defects, ...outings]
  const read = async page => {
    const all = {}
    for (const path of pages) {
      await page.goto(path)
      all[path] = (await page.locator('main').innerText()).replace(/\s+/g, ' ').replace(/in \d+ h \d+ min|clock says [\d:]+/g, '') // what runs on while the test reads
    }
    for (const table of await page.goto('/find').then(() => page.locator('a[href*=".csv"]').evaluateAll(list => list.map(a => a.getAttribute('href'))))) {
      const answer = await page.request.get(table)
      expect(answer.status(), table).toBe(200)
      all[table] = await answer.text()
    }
    return all
  }
  const before = await read(lead)
  expect(Object.keys(before).filter(path => path.includes('.csv'))).toHaveLength(5)
  const [download] = await Promise.all([lead.waitForEvent('download'), lead.locator('a[href="/export/yard.jsonl"]').click()])
  const dir = mkdtempSync(join(tmpdir(), 'away-'))
  const lines = join(dir, 'yard.jsonl'), pins = join(dir, 'pins.jsonl'), bare = join(dir, 'bare'), anew = join(dir, 'anew')
  await download.saveAs(lines)
  // What the browser takes has no PINs: the same records, and nobody can sign in.
  expect(vespers('import', lines, '--db', bare)).toMatch(/\d+ records/)
  expect(() => vespers('verify', '--db', bare)).toThrow(/PIN/)
  vespers('export', '--db', yard.db, '--pins', pins)
  vespers('import', pins, '--db', anew)
  vespers('verify', '--db', anew)
  const broken = join(dir, 'broken.jsonl')
  writeFileSync(broken, vespers('--help'))
  expect(() => vespers('import', broken, '--db', join(dir, 'none'))).toThrow()
  const second = await start(anew)
  try {
    const page = await (await browser.newContext({ baseURL: second.address, viewport: tablet })).newPage()
    await signIn(page, 'maren')
    const after = await read(page)
    for (const path of Object.keys(before)) expect(after[path], path).toBe(before[path])
  } finally {
    second.server.kill('SIGKILL')
    rmSync(dir, { recursive: true, force: true })
  }
})

test('a lead\'s duties, handed over and taken back', async ({ open }) => {
  const lead = await open({ viewport: tablet }), tobias = await open({ viewport: phone, hasTouch: true })
  await signIn(tobias, 'tobias')
  expect((await tobias.goto('/defects')).status()).toBe(403)
  await signIn(lead, 'maren')
  await lead.goto('/people')
  const of = () => lead.locator('ul.crew > li', { hasText: 'Tobias Fennimar' }).first()
  await of().locator('summary').click()
  const year = new Date().getFullYear()
  // Too far ahead: refused, with why.
  await of().locator('form[action$="/duties"] input[type=date]').fill(`${year + 2}-01-01`)
  await Promise.all([lead.waitForNavigation(), of().locator('form[action$="/duties"] button').click()])
  await expect(lead.locator('.problem').first()).toContainText('three months')
  await of().locator('summary').click()
  const soon = new Date(Date.now() + 5 * 864e5).toISOString().slice(0, 10)
  await of().locator('form[action$="/duties"] input[type=date]').fill(soon)
  await Promise.all([lead.waitForNavigation(), of().locator('form[action$="/duties"] button').click()])
  await expect(of()).toContainText('stands in for a lead')
  await expect(lead.locator('.acts')).toContainText('handed a lead\'s duties to Tobias Fennimar')
  await looks(lead)
  expect((await tobias.goto('/defects')).status()).toBe(200)
  await looks(tobias)
  expect((await tobias.goto('/people')).status()).toBe(403) // PINs and roles stay
  await tobias.goto('/yard')
  await expect(tobias.locator('.places')).toContainText('Defects')
  await of().locator('summary').click()
  await Promise.all([lead.waitForNavigation(), of().locator('form[action$="/duties"] button').click()])
  expect((await tobias.goto('/defects')).status()).toBe(403)
})

test('the yard\'s time zone is put right, and the technician has one list', async ({ open }) => {
  const lead = await open({ viewport: tablet }), ruth = await open({ viewport: phone, hasTouch: true })
  await signIn(lead, 'maren')
  await lead.goto('/rules')
  const says = async () => { // minutes of the day, by the yard's clock
    const [, hour, minute] = (await lead.locator('label', { has: lead.locator('[name=timezone]') }).textContent()).match(/says (\d\d):(\d\d)/)
    return Number(hour) * 60 + Number(minute)
  }
  const dublin = await says()
  await lead.locator('[name=timezone]').fill('Mars/Olympus')
  await Promise.all([lead.waitForNavigation(), lead.locator('.keep button').click()])
  await expect(lead.locator('.problem').first()).toContainText('no such time zone')
  await expect(lead.locator('[name=timezone]')).toHaveValue('Mars/Olympus')
  await lead.locator('[name=timezone]').fill('America/Lima')
  await Promise.all([lead.waitForNavigation(), lead.locator('.keep button').click()])
  await expect(lead.locator('[name=timezone]')).toHaveValue('America/Lima')
  const hourIn = zone => Number(new Date().toLocaleTimeString('en-GB', { timeZone: zone, hour: '2-digit' }))
  const apart = (hourIn('America/Lima') - hourIn('Europe/Dublin') + 24) % 24
  const later = (await says() - dublin - apart * 60 + 2 * 24 * 60) % (24 * 60)
  expect(later).toBeLessThan(10) // the minutes that the test itself took
  await signIn(ruth, 'ruth')
  await ruth.locator('.places a', { hasText: 'Workshop' }).click()
  await looks(ruth)
  await expect(ruth.locator('.workshop section').first()).toContainText('Beadle')
  for (const words of ['Interlock test 5 failed', 'Hydraulic hoses and fittings', 'Battery at rest', 'Stopping: the blades']) await expect(ruth.locator('.workshop')).toContainText(words)
  await ruth.locator('.workshop section').first().locator('.desk a').click()
  await expect(ruth.locator('form[action$="/repair"]')).toHaveCount(1)
})
