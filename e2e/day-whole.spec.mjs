// One whole day of Wrenfield, from the muster to the seal: five people, machines of every
// group, English and Spanish; one machine comes to a Halt, one stays on site, a link drops,
// the program is killed and started again, and the key cabinet is down.
import { test, expect, signIn, start, filledYard, follow, hurry, takeOut, accessible, noSidewaysScroll, Walker } from './yard.mjs'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const phone = { viewport: { width: 390, height: 844 }, hasTouch: true }
const fast = 60

test('a whole day', async ({ browser }) => {
  test.setTimeout(600_000)
  const dir = mkdtempSync(join(tmpdir(), 'vespers-day-')), db = await filledYard(dir, '07:10')
  let running = await start(db, '--time', '07:10', '--fast', String(fast)), begun = Date.now(), at = 7 * 60 + 10
  const clock = (minutes = 0) => {
    const now = at + Math.floor((Date.now() - begun) * fast / 60000) + minutes
    return String(Math.floor(now / 60) % 24).padStart(2, '0') + ':' + String(now % 60).padStart(2, '0')
  }
  const device = async (who, options = phone) => {
    const page = await (await browser.newContext({ baseURL: running.address, ...options })).newPage()
    await signIn(page, who)
    return page
  }
  const press = (page, locator) => Promise.all([page.waitForNavigation(), locator.click()])
  const fault = (device, fault) => fetch(running.devices[device] + '/fault', { method: 'PUT', body: JSON.stringify({ fault }) })
  const outingOf = async (page, machine) => {
    await page.goto('/machines/' + machine)
    return (await page.locator('main a[href^="/outings/"]').first().getAttribute('href')).match(/\/outings\/[^/?]+/)[0]
  }
  try {
    // The muster: each says that they are here, or is seen; who is given what.
    let lead = await device('maren', {})
    await lead.goto('/muster')
    await press(lead, lead.locator('form[action="/me/here"] button'))
    let ruth = await device('ruth'), ines = await device('ines')
    await press(ruth, ruth.locator('a[href="/muster"]'))
    await press(ruth, ruth.locator('form[action="/me/here"] button'))
    await lead.reload()
    for (const [machine, who] of [['Verger', 'Inés'], ['Chorister', 'Tobias'], ['Succentor', 'Ruth'], ['Ostiary', 'Lucía']]) {
      await lead.locator('summary', { hasText: `Give ${machine} to` }).click()
      await press(lead, lead.locator('details[open] button', { hasText: who }))
    }
    await lead.locator('summary', { hasText: 'Say quiet hours' }).click()
    for (const [name, typed] of [['from', '14:00'], ['until', '15:00'], ['what', 'Burial, lower terrace']]) await lead.locator(`input[name=${name}]`).fill(typed)
    await press(lead, lead.locator('form[action="/muster/quiet"] button'))
    await expect(lead.locator('.until')).toContainText('5 of 8 people here')

    // Six go out beside Cantor, which is out: two riders' kinds, a sweeper, a brush, a
    // trencher, a triplex, a wide mower.
    const out = async (page, machine, name) => {
      await page.goto('/machines/' + machine)
      await takeOut(page, new Walker(page))
      const outing = page.url().match(/\/outings\/[^/?]+/)[0]
      await hurry(page, 'form[action$="/release"]')
      await Promise.all([page.waitForNavigation(), page.locator('form[action$="/release"] button.go').tap()])
      await expect(page.locator('.go-card'), name).toHaveCount(1)
      return outing
    }
    let tobias = await device('tobias'), lucia = await device('lucia')
    await ines.goto('/yard')
    await expect(ines.locator('main')).toContainText('Verger es suya hoy')
    const outings = { cantor: [tobias, await outingOf(tobias, 'cantor')] }
    await Promise.all([[ines, 'verger', 'acolyte'], [ruth, 'succentor', 'provost'], [tobias, 'chorister', 'bellringer']].map(async ([page, ...machines]) => {
      for (const machine of machines) outings[machine] = [page, await out(page, machine)]
    }))

    // Lucía finds a buckle that does not hold: a Halt, and Ostiary does not go out.
    await lucia.goto(await outingOf(lucia, 'thurifer') + '/verdict')
    await Promise.all([lucia.waitForNavigation(), lucia.locator('form[action$="/end"] button').click()])
    await lucia.goto('/machines/ostiary')
    await takeOut(lucia, new Walker(lucia))
    const ostiary = lucia.url().match(/\/outings\/[^/?]+/)[0]
    await hurry(lucia, 'input[name=check][value=seat_belt]')
    await lucia.locator('.not-sound summary').first().tap()
    await Promise.all([lucia.waitForNavigation(), lucia.locator('button[name=fault][value=buckle]').first().tap()])
    await lucia.goto(ostiary + '/verdict')
    await Promise.all([lucia.waitForNavigation(), lucia.locator('form[action$="/end"] button').click()])
    await lead.goto('/muster')
    await expect(lead.locator('.muster-group').first()).toContainText('Ostiary')
    await expect(async () => { // the other lead is told
      const { messages } = await (await fetch(running.devices['message outbox'] + '/messages')).json()
      expect(messages.filter(m => m.to === 'Edda Quillfane' && m.text.includes('Ostiary is on Halt'))).toHaveLength(1)
    }).toPass()

    // The key cabinet goes down, and nobody waits for it; the program is killed, and comes
    // back at the time it is by then with everything that was saved.
    await fault('key cabinet', 'gone')
    await Promise.all([outings.verger, outings.succentor, outings.chorister].map(async ([page, outing]) => {
      await follow(page, outing, 'start')
      await follow(page, outing, 'work')
    }))
    const time = clock(1)
    running.server.kill('SIGKILL')
    running = await start(db, '--time', time, '--fast', String(fast))
    at = Number(time.slice(0, 2)) * 60 + Number(time.slice(3))
    begun = Date.now()
    lead = await device('maren', {})
    for (const [who, machines] of Object.entries({ ines: ['verger', 'acolyte'], ruth: ['succentor', 'provost'], tobias: ['cantor', 'chorister', 'bellringer'] })) {
      const page = await device(who)
      for (const machine of machines) outings[machine][0] = page
      if (who === 'ines') ines = page
      else if (who === 'ruth') ruth = page
      else tobias = page
    }
    await fault('key cabinet', 'gone')

    // A word of when; the link drops under another one, which waits and is sent once.
    await ines.goto(outings.verger[1] + '/do')
    await ines.locator('.home-at summary').tap()
    await ines.locator('input[name=home]').fill(clock(10))
    await ines.context().setOffline(true)
    await ines.locator('.home-at button').tap()
    const waits = n => ines.waitForFunction(n => JSON.parse(localStorage.getItem('vespers.unsent') || '[]').length === n, n)
    await waits(1)
    await ines.context().setOffline(false)
    await waits(0)
    await expect(async () => {
      await ines.goto(outings.verger[1] + '/do')
      await expect(ines.locator('main')).toContainText('dice Inés Carvanal', { timeout: 1000 })
    }).toPass({ timeout: 60_000 })

    // The evening, planned; then it is done. Bellringer stays where it stands.
    await lead.goto('/evening')
    await expect(lead.locator('.evening-chart')).toContainText('Verger')
    const putAway = async machine => {
      const [page, outing] = outings[machine]
      for (const procedure of ['shutdown', ...(machine === 'bellringer' ? [] : ['clean', 'grease', 'store'])]) {
        await page.goto(outing + '/do')
        if (await page.locator(`button[name=procedure][value=${procedure}]`).count()) await follow(page, outing, procedure)
      }
      await page.goto(outing + '/do')
      if (machine === 'bellringer') {
        await page.locator('.leave-ask summary').tap()
        for (const [name, words] of [['where', 'Upper wall, by the cistern'], ['secured', 'Level, boom down, valve shut, key with me'], ['why', 'Frost in the ground']]) await page.locator(`input[name=${name}]`).fill(words)
        await page.locator('select[name=fetches]').selectOption({ label: 'Ruth Akindale' })
        await Promise.all([page.waitForNavigation(), page.locator('.leave-ask button').tap()])
      } else await Promise.all([page.waitForNavigation(), page.locator('form[action$="/end"] button').tap()])
    }
    await Promise.all([['verger', 'acolyte'], ['succentor', 'provost'], ['cantor', 'chorister', 'bellringer']].map(async machines => {
      for (const machine of machines) await putAway(machine)
    }))
    await lead.goto('/muster')
    await expect(lead.locator('.problem', { hasText: 'Keys by hand' })).toBeVisible()
    const almoner = await outingOf(lead, 'almoner') // begun before the day, and never taken out
    await lead.goto(almoner + '/verdict')
    await press(lead, lead.locator('form[action$="/end"] button'))

    // Everybody goes home by their own word, but one; the day is sealed.
    for (const page of [ines, ruth, tobias]) {
      await page.goto('/vespers')
      await noSidewaysScroll(page)
      await Promise.all([page.waitForNavigation(), page.locator('form[action="/me/home"] button').tap()])
    }
    await lead.goto('/vespers')
    await expect(lead.locator('.missing')).toContainText('Nobody knows where Lucía Brandaluz is')
    await expect(lead.locator('.missing')).toContainText('Nobody knows where Maren Oduvale is')
    await lead.locator('.where-ask summary', { hasText: 'Lucía' }).click()
    await press(lead, lead.locator('details[open] button'))
    await press(lead, lead.locator('form[action="/me/home"] button'))
    await accessible(lead)
    await expect(lead.locator('.until')).toContainText('6 home · 1 left on site · 0 out')
    await press(lead, lead.locator('form[action="/vespers/seal"] button'))
    await expect(lead.locator('.note[role=status]')).toContainText('6 machines home, 1 left on site, 5 people')
    await expect(lead.locator('main')).toContainText('Ostiary')
    await expect(lead.locator('main')).toContainText('Bellringer: Upper wall, by the cistern')
  } finally {
    running.server.kill('SIGKILL')
    rmSync(dir, { recursive: true, force: true })
  }
})
