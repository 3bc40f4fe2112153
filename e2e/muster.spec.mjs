// The two ends of a day as a lead sees them: the muster in the morning, and the evening as
// it is planned while machines come home.
import { test, expect, signIn, start, accessible, noSidewaysScroll } from './yard.mjs'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const phone = { viewport: { width: 390, height: 844 }, hasTouch: true }

async function press(page, locator) {
  await Promise.all([page.waitForNavigation(), locator.click()])
}

test.describe('in the morning', () => {
  test.use({ time: '07:10' })

  test('a lead holds the muster', async ({ open }) => {
    const lead = await open(), jonah = await open(phone)
    await signIn(lead, 'maren')
    await press(lead, lead.locator('a[href="/muster"]'))
    await expect(lead.locator('main')).toContainText('Nobody said how it is today')

    // Nobody is given a machine who has not come, and who comes says so.
    await lead.locator('summary', { hasText: 'Give Sexton to' }).click()
    await expect(lead.locator('details[open]')).not.toContainText('Jonah')
    await signIn(jonah, 'jonah')
    await jonah.goto('/muster')
    for (const look of [accessible, noSidewaysScroll]) await look(jonah)
    await expect(jonah.locator('form[action^="/muster"]')).toHaveCount(0)
    await press(jonah, jonah.locator('form[action="/me/here"] button'))
    await expect(jonah.locator('form[action="/me/here"]')).toHaveCount(0)
    await lead.reload()
    await press(lead, lead.locator('form[action="/muster/here"] button', { hasText: 'Oskar' }))
    await lead.locator('summary', { hasText: 'Give Sexton to' }).click()
    await expect(lead.locator('details[open]')).toContainText('Oskar Lindqvale may not have a machine')
    await press(lead, lead.locator('details[open] button', { hasText: 'Jonah' }))
    await expect(lead.locator('.given-line')).toContainText('only with a second person')

    // Quiet hours that are wrong are refused, and what was typed is kept.
    await lead.locator('summary', { hasText: 'Say quiet hours' }).click()
    await lead.locator('input[name=from]').fill('11:30')
    await lead.locator('input[name=until]').fill('10:30')
    await lead.locator('input[name=what]').fill('Burial, lower terrace')
    await press(lead, lead.locator('form[action="/muster/quiet"] button'))
    await expect(lead.locator('[role=alert].problem')).toContainText('end after they begin')
    await expect(lead.locator('input[name=what]')).toHaveValue('Burial, lower terrace')
    await lead.locator('input[name=from]').fill('10:30')
    await lead.locator('input[name=until]').fill('11:30')
    await press(lead, lead.locator('form[action="/muster/quiet"] button'))
    await lead.locator('summary', { hasText: 'Say how it is' }).click()
    for (const [name, is] of [['grass', 'wet'], ['light', 'good'], ['storm', 'none']]) await lead.locator(`select[name=${name}]`).selectOption(is)
    await press(lead, lead.locator('form[action="/muster/weather"] button'))
    await expect(lead.locator('main')).toContainText('Grass wet; light good; lightning none. By Maren Oduvale')
    for (const look of [accessible, noSidewaysScroll]) await look(lead)
    const paper = await lead.request.get('/muster.pdf')
    expect(paper.headers()['content-type']).toBe('application/pdf')

    // Everybody reads it in the yard; the one who has it, that it is theirs.
    await jonah.goto('/yard')
    await expect(jonah.locator('main')).toContainText('Quiet from 10:30 to 11:30: Burial, lower terrace')
    await expect(jonah.locator('main')).toContainText('Sexton is yours today')
    await press(lead, lead.locator('.given-line button', { hasText: 'Take Sexton back' }))
    await press(lead, lead.locator('form[action="/muster/quiet/drop"] button'))
    await jonah.reload()
    await expect(jonah.locator('main')).not.toContainText('Quiet from')

    // The yard can be kept on a home screen: the browser finds nothing wrong with it.
    const browser = await jonah.context().newCDPSession(jonah)
    const { url, data, errors } = await browser.send('Page.getAppManifest')
    expect(errors).toEqual([])
    expect(url).toMatch(/manifest\.webmanifest$/)
    for (const icon of JSON.parse(data).icons) expect((await jonah.request.get(new URL(icon.src, url).href)).ok()).toBe(true)
    await expect(jonah.locator('main')).not.toContainText('Sexton is yours')
  })
})

test('an evening is planned, and moves', async ({ browser }) => {
  const dir = mkdtempSync(join(tmpdir(), 'vespers-evening-'))
  const { server, address, devices } = await start(join(dir, 'yard'), '--evening')
  const open = async (options = {}) => (await browser.newContext({ baseURL: address, ...options })).newPage()
  const lead = await open(), ines = await open(phone), tobias = await open(phone)
  await signIn(lead, 'maren')
  await lead.goto('/evening')
  for (const look of [accessible, noSidewaysScroll]) await look(lead)
  await expect(lead.locator('.problem', { hasText: /Thurifer was to be home at 16:2\d/ })).toBeVisible()
  await expect(lead.locator('.missing')).toContainText('Succentor')
  await expect(lead.locator('.until')).toContainText('not closed before the others are')
  await expect(lead.locator('.evening-chart section')).toHaveCount(3)

  // Each sees what is theirs, in their language, and no water comes to hot metal.
  await signIn(ines, 'ines')
  await ines.goto('/evening')
  for (const look of [accessible, noSidewaysScroll]) await look(ines)
  await expect(ines.locator('.turns-mine li').first()).toContainText('Verger: sople y cepille')
  await expect(ines.locator('.turns-mine')).toContainText('el lugar de lavado es suyo')

  // The word that was missing, one that cannot be, and the plan has the machine.
  await signIn(tobias, 'tobias')
  await tobias.goto('/machines/succentor')
  const outing = (await tobias.locator('main a[href^="/outings/"]').first().getAttribute('href')).match(/\/outings\/[^/?]+/)[0]
  await tobias.goto(outing + '/do')
  await expect(tobias.locator('main')).toContainText('Nobody has said when it comes home')
  await tobias.locator('.home-at summary').tap()
  await tobias.locator('input[name=home]').fill('17:05')
  await press(tobias, tobias.locator('.home-at button'))
  await expect(tobias.locator('main')).toContainText('Home at 17:05, says Tobias Fennimar')
  // The page that stays open says so by itself, when somebody looks at it again.
  await lead.evaluate(() => document.dispatchEvent(new Event('visibilitychange')))
  await expect(lead.locator('.missing')).toHaveCount(0)
  await expect(lead.locator('.until')).toContainText('The yard is closed at about')
  await expect(lead.locator('.day-legend')).toContainText('Succentor')
  await lead.goto('/vespers')
  await expect(lead.locator('main')).toContainText('Succentor out with Tobias Fennimar, home at 17:05')
  await expect(lead.locator('main')).toContainText('Verger in the yard with Inés Carvanal')
  await accessible(lead)

  // A device that is down is said, with what is done by hand, and nobody waits for it; a
  // flash near by is told on every page, and goes with it.
  const put = (device, path, body) => fetch(devices[device] + path, { method: 'PUT', body: JSON.stringify(body) })
  await put('key cabinet', '/fault', { fault: 'gone' })
  await expect(async () => {
    await lead.goto('/muster')
    await expect(lead.locator('.problem', { hasText: 'Keys by hand' })).toBeVisible({ timeout: 500 })
  }).toPass()
  await lead.locator('.problem a[href="/outside"]').click()
  await expect(lead.locator('main')).toContainText('Key cabinet: no answer since')
  await expect(lead.locator('main')).toContainText('Weather post: well')
  for (const look of [accessible, noSidewaysScroll]) await look(lead)
  await put('weather post', '/now', { grass: 'wet', light: 'poor', lightning_km: 4 })
  await expect(async () => {
    await tobias.goto('/yard')
    await expect(tobias.locator('.alerted', { hasText: 'Lightning about' })).toBeVisible({ timeout: 500 })
  }).toPass({ timeout: 40000 })
  await put('weather post', '/fault', { fault: 'wrong' })
  await put('key cabinet', '/fault', { fault: '' })
  await expect(async () => {
    await lead.goto('/muster')
    await expect(lead.locator('.problem', { hasText: 'say how it is' })).toBeVisible({ timeout: 500 })
    await expect(lead.locator('.problem', { hasText: 'Keys by hand' })).toHaveCount(0)
  }).toPass({ timeout: 40000 })
  await expect(lead.locator('.alerted', { hasText: 'Lightning' })).toHaveCount(0)
  server.kill('SIGKILL')
  rmSync(dir, { recursive: true, force: true })
})
