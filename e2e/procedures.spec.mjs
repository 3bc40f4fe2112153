// Procedures and events in the running program: step by step, waits that are the
// server's, what happened and what is left of it.
import { test, expect, signIn, accessible, noSidewaysScroll, bigTargets, inReach, start, filledYard, follow, takeOut, hurry, proveRepair, Walker } from './yard.mjs'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const tablet = { width: 1280, height: 800 }, phone = { width: 390, height: 844 }
const outingOf = async (page, machine) => {
  await page.goto('/machines/' + machine)
  return (await page.locator('a[href*="/outings/"]').first().getAttribute('href')).match(/\/outings\/[^/?]+/)[0]
}

test.describe(() => {
  test.use({ time: '07:40' }) // by the right clock: a pause of ten minutes is one

  test('shut down and home, every step by a tap; every page looked over', async ({ open }) => {
    const page = await open({ viewport: phone, hasTouch: true, colorScheme: 'dark' })
    const walker = new Walker(page)
    await signIn(page, 'tobias')
    const outing = await outingOf(page, 'cantor')
    await page.goto(outing + '/verdict')
    await expect(page.locator('form[action$="/end"]')).toHaveCount(0)
    await walker.moved(() => walker.press(page.locator('a.bar.go')))
    for (const look of [accessible, noSidewaysScroll]) await look(page)
    // What has to come first is said, and not offered.
    await expect(page.locator('.do-later li', { hasText: 'Fuel' })).toContainText('engine off first')
    await expect(page.locator('button[value=fuel]')).toHaveCount(0)
    await walker.moved(() => walker.press(page.locator('button[value=shutdown]')))
    const asked = []
    while (await page.locator('.runner.do').count()) {
      if (!await page.locator('.wait-card').count()) {
        asked.push(await page.locator('h1').innerText())
        for (const look of [accessible, noSidewaysScroll, bigTargets, inReach]) await look(page)
        await walker.moved(() => walker.press(page.locator('.answers .bar.go')))
        continue
      }
      await expect(page.locator('.wait-card')).toContainText(/Wait until \d\d:\d\d/)
      await expect(page.locator('.answers')).toHaveCount(0) // nobody waives it
      await accessible(page)
      await page.waitForFunction(() => !document.querySelector('.wait-card')) // it goes on by itself
    }
    expect(asked.slice(0, 2)).toEqual(['From the seat: stay there until everything is still', 'Blades off; let the chute clear'])
    expect(asked).toContain('Key out, in your pocket')
    expect(asked.at(-1)).toContain('Down by the steps')
    expect(walker.taps).toBeLessThan(17)
    await walker.moved(() => walker.press(page.locator('form[action$="/end"] button')))
    await expect(page.locator('.ended')).toContainText('Tobias')
  })

  test('something happened: on record, halted, and the technician is told by what', async ({ open }) => {
    const page = await open({ viewport: tablet })
    await signIn(page, 'tobias')
    const outing = await outingOf(page, 'cantor')
    await page.goto(outing + '/happened')
    await page.locator('.happening > summary', { hasText: 'It struck something' }).click()
    await expect(page.locator('.happening[open] button.bad')).toBeInViewport()
    await page.locator('.happening[open] button.bad').click()
    await page.waitForURL('**/do?**')
    await expect(page.locator('h1')).toHaveText('Blades off')
    for (const look of [accessible, noSidewaysScroll, bigTargets, inReach]) await look(page)
    // The link is lost in the middle of it: the answer is kept, and goes when it is back.
    await page.context().setOffline(true)
    await page.locator('.answers .bar.go').click()
    await expect(page.locator('.saving')).toContainText('will be sent')
    await page.context().setOffline(false)
    await expect(page.locator('h1')).not.toHaveText('Blades off')
    await follow(page, outing, 'none')
    await page.goto(outing + '/verdict')
    await expect(page.locator('.halt-card')).toContainText('It struck something: it stays until it was looked over and put right.')
    await page.goto(outing + '/do')
    await expect(page.locator('main')).toContainText('On record: It struck something')
    await expect(page.locator('button[value=work]')).toHaveCount(0)
    await page.locator('form[action$="/end"] button').click()
    await page.waitForURL('**/verdict')
    // It does not go out again before Ruth has looked it over.
    await page.goto('/machines/cantor')
    await expect(page.locator('.defects')).toContainText('It struck something')
    await expect(page.locator('form[action$="/outing"]')).toHaveCount(0)
    const ruth = await open({ viewport: tablet })
    await signIn(ruth, 'ruth')
    await ruth.goto('/machines/cantor')
    await ruth.goto(await ruth.locator('.defects a', { hasText: 'struck' }).getAttribute('href'))
    await accessible(ruth)
    await ruth.locator('[name=cause]').fill('A stone at the wall; one blade bent')
    await ruth.locator('[name=work]').fill('Blades and bolts new, spindle true')
    await Promise.all([ruth.waitForURL('**/ready'), ruth.locator('form[action$="/repair"] button').click()])
    await proveRepair(ruth)
    await ruth.goto('/machines/cantor')
    await expect(ruth.locator('form[action$="/outing"]')).toHaveCount(1)
  })
})

test('a wait for fuel: the same on a second device, over a restart, and with a wrong clock', async ({ browser }) => {
  const dir = mkdtempSync(join(tmpdir(), 'vespers-')), db = await filledYard(dir, '07:40'), fast = 30
  let running = await start(db, '--time', '07:40', '--fast', String(fast))
  const begun = Date.now()
  const device = async () => {
    const context = await browser.newContext({ baseURL: running.address, viewport: phone })
    const page = await context.newPage()
    await signIn(page, 'tobias')
    return page
  }
  try {
    let page = await device()
    const outing = await outingOf(page, 'cantor')
    await follow(page, outing, 'shutdown')
    await page.goto(outing + '/do')
    await page.locator('button[value=fuel]').click()
    const next = () => Promise.all([page.waitForNavigation(), page.locator('.answers .bar.go').click()])
    await page.waitForURL('**/do?**')
    while (!await page.locator('.wait-card').count()) await next()
    const until = (await page.locator('.wait-card b').innerText()).match(/\d\d:\d\d/)[0]
    await expect(page.locator('h1')).toHaveText('Let it cool')
    for (const look of [accessible, noSidewaysScroll]) await look(page)
    // A second device shows the same; answering early is refused there too.
    const second = await device()
    await second.goto(outing + '/do')
    await expect(second.locator('.wait-card b')).toContainText(until)
    const early = await second.evaluate(async outing => {
      const fields = new URLSearchParams({ id: 'early-0123456789abcdef', machine: 'cantor', procedure: 'fuel', step: 'cool', answer: 'waited', sure: 'yes', device_at: String(Date.now() + 3600000) })
      const response = await fetch(outing + '/do/answer', { method: 'POST', body: fields, headers: { Accept: 'application/json' } })
      return [response.status, (await response.json()).error]
    }, outing)
    expect(early[0]).toBe(422)
    expect(early[1]).toContain('It has to wait until')
    // Meanwhile the can; the other device, a moment later, is told by whom.
    const can = second.locator('.meanwhile button').first()
    await page.locator('.meanwhile button').first().click()
    await expect(page.locator('.meanwhile')).toHaveCount(0)
    await can.click()
    await expect(second.locator('.saving')).toContainText('Tobias')
    // The walk-around and every other page say what is open meanwhile.
    await page.goto(outing + '/verdict')
    await expect(page.locator('.doing[role=status]')).toContainText(`waits until ${until}`)
    await page.goto('/machines/cantor')
    await expect(page.locator('.doing')).toContainText(`waits until ${until}`)
    // The server is killed in the middle of it, and comes back at the time it is by then.
    running.server.kill('SIGKILL')
    const minutes = 7 * 60 + 40 + Math.ceil((Date.now() - begun) * fast / 60000)
    running = await start(db, '--time', String(Math.floor(minutes / 60)).padStart(2, '0') + ':' + String(minutes % 60).padStart(2, '0'), '--fast', String(fast))
    page = await device()
    await page.goto(outing + '/do')
    await expect(page.locator('.runner.do')).toHaveCount(1)
    while (!await page.locator('.wait-card').count() && await page.locator('h1').innerText() !== 'Let it cool') await next()
    if (await page.locator('.wait-card').count()) await expect(page.locator('.wait-card b')).toContainText(until)
    const rest = await follow(page, outing, 'none')
    expect(rest.join('|')).toMatch(/Let it cool.*Touch bare metal.*open it slowly/)
    await page.goto(outing + '/do')
    await expect(page.locator('button[value=fuel] small')).toContainText('done at')
  } finally {
    running.server.kill('SIGKILL')
    rmSync(dir, { recursive: true, force: true })
  }
})

test.describe(() => {
  test.use({ fast: 10, time: '05:40' })

  test('fuelled cold before the round, in Spanish; started over nothing that is open', async ({ open }) => {
    const page = await open({ viewport: phone, hasTouch: true })
    await signIn(page, 'ines')
    await page.goto('/machines/precentor')
    await takeOut(page, new Walker(page))
    const outing = page.url().match(/\/outings\/[^/?]+/)[0]
    await hurry(page, '.page-round .answers')
    await page.locator('.do-link a').tap()
    await page.waitForURL('**/do')
    await page.locator('button[value=fuel]').tap()
    await page.waitForURL('**/do?**')
    await expect(page.locator('h1')).toContainText('¿A cielo abierto')
    // The round is not begun meanwhile, and says why.
    await page.goto(outing + '/round')
    await expect(page.locator('.problem')).toContainText('Termine primero lo que está abierto: Cargar combustible')
    await expect(page.locator('.doing[role=status]')).toBeVisible()
    await accessible(page)
    const asked = await follow(page, outing, 'none')
    expect(asked.join('|')).not.toContain('enfriar') // it has been cold since yesterday
    await page.goto(outing + '/round')
    await expect(page.locator('.answers')).toBeVisible()
    // Left in the middle, what is open stays open.
    await page.goto(outing + '/do')
    await page.locator('button[value=fuel]').tap()
    await page.waitForURL('**/do?**')
    while (!(await page.locator('h1').innerText()).includes('tapón')) await Promise.all([page.waitForNavigation(), page.locator('.answers .bar.go').tap()])
    await Promise.all([page.waitForNavigation(), page.locator('.answers .bar.go').tap()])
    await page.locator('.leave summary').tap()
    await Promise.all([page.waitForNavigation(), page.locator('.leave button').tap()])
    await page.goto(outing + '/round')
    await expect(page.locator('.problem')).toContainText('No se debe encender ahora: tapón abierto')
  })
})

test('the first act without the server; house rules that a lead changes and a step shows', async ({ open }) => {
  const page = await open({ viewport: phone, hasTouch: true })
  await signIn(page, 'tobias')
  const outing = await outingOf(page, 'cantor')
  await page.goto(outing + '/verdict')
  await page.waitForFunction(() => sessionStorage.getItem('vespers.happened')) // it is on the device before it is needed
  await page.context().setOffline(true)
  await page.locator('.happened-link a').tap()
  await page.locator('.happening > summary', { hasText: 'Fire or smoke' }).tap()
  await expect(page.locator('.happening[open] .first-act')).toHaveText('Engine off')
  await expect(page.locator('.emergency')).toContainText('112')
  await page.locator('.happening[open] button.bad').tap()
  await expect(page.locator('.saving')).toContainText('will be sent')
  await page.context().setOffline(false)
  await page.waitForURL('**/do?**')
  await expect(page.locator('.halt-banner, .emergency').first()).toBeVisible()

  const lead = await open({ viewport: tablet })
  await signIn(lead, 'maren')
  await lead.goto('/rules')
  for (const look of [accessible, noSidewaysScroll]) await look(lead)
  await lead.locator('#rule-clearing > summary').click()
  await lead.locator('input[name="rule.clearing"][value=still]').check()
  await lead.locator('[name=mend_days]').fill('900')
  await lead.locator('[name=meeting]').fill('At the lych gate')
  await lead.locator('button.bar.go').click()
  await expect(lead.locator('.problem')).toBeVisible()
  await expect(lead.locator('[name=meeting]')).toHaveValue('At the lych gate') // what was typed stays
  await expect(lead.locator('input[name="rule.clearing"][value=still]')).toBeChecked()
  await lead.locator('[name=mend_days]').fill('7')
  await lead.locator('button.bar.go').click()
  await expect(lead.locator('.rule', { hasText: 'Before hands go to the cutter' })).toContainText('chosen by Maren')
  // Everybody reads it; nobody else changes it. Steps show what is in force.
  await page.goto('/rules')
  await expect(page.locator('.emergency')).toContainText('At the lych gate')
  await expect(page.locator('input[type=radio]')).toHaveCount(0)
  await page.goto('/machines/cantor/steps')
  await expect(page.locator('main')).toContainText('House rule: Engine off and everything still')
})

test.describe(() => {
  test.use({ fast: 40, time: '07:40' })

  test('who works alone is looked for: on every page of a lead, until they say that they are well', async ({ open }) => {
    const page = await open({ viewport: phone, hasTouch: true }), lead = await open({ viewport: tablet })
    await signIn(page, 'tobias')
    await signIn(lead, 'maren')
    const outing = await outingOf(page, 'cantor')
    await page.goto(outing + '/check-in')
    for (const look of [accessible, noSidewaysScroll]) await look(page)
    await page.locator('[name=next]').fill('05:00')
    await page.locator('button.go').tap()
    await expect(page.locator('.saving')).toContainText('does not come again before the day ends')
    await expect(page.locator('[name=next]')).toHaveValue('05:00')
    // In a few minutes of the yard's clock.
    const now = await page.locator('.band .is-sr-only').textContent()
    const [, hour, minute] = now.match(/(\d\d):(\d\d)/).map(Number)
    const soon = hour * 60 + minute + 6
    await page.locator('[name=next]').fill(String(Math.floor(soon / 60)).padStart(2, '0') + ':' + String(soon % 60).padStart(2, '0'))
    await page.locator('button.go').tap()
    await expect(page.locator('.note').first()).toContainText('Somebody looks for you at')
    await lead.goto('/yard')
    await expect(lead.locator('.alerted')).toHaveCount(0)
    // The page stays open; nobody loads it again.
    await expect(lead.locator('.alerted')).toContainText('Not heard of: Tobias Fennimar, Cantor', { timeout: 45000 })
    await accessible(lead)
    await lead.goto('/yard/list')
    await lead.locator('.alerted a').click()
    await lead.locator('[name=who]').selectOption({ label: 'Edda Quillfane' })
    await lead.locator('form[action$="/seek"] button').click()
    await expect(lead.locator('main')).toContainText('Edda Quillfane goes to look since')
    await expect(lead.locator('.alerted')).toContainText('Edda Quillfane goes to look')
    await accessible(lead)
    await page.goto(outing + '/verdict')
    await expect(page.locator('.missed')).toContainText('You were to be heard of by')
    await expect(page.locator('.alerted')).toHaveCount(0) // it is for who sends somebody
    await page.locator('.missed a').tap()
    await page.locator('[name=next]').fill('12:00')
    await page.locator('button.go').tap()
    await expect(page.locator('.note').first()).toContainText('12:00')
    await lead.goto('/people')
    await expect(lead.locator('.alerted')).toHaveCount(0)
  })
})

test('handed over on the same tablet: by their own PIN alone, and asked at once', async ({ open }) => {
  const page = await open({ viewport: phone, hasTouch: true })
  await signIn(page, 'tobias')
  const outing = await outingOf(page, 'cantor')
  await page.goto(outing + '/do')
  const hand = async pin => {
    await page.locator('.hand summary').tap()
    await page.locator('.hand [name=to]').selectOption({ label: 'Inés Carvanal' })
    await page.locator('.hand [name=pin]').fill(pin)
    await Promise.all([page.waitForNavigation(), page.locator('.hand button').tap()])
  }
  await hand('1111')
  await expect(page.locator('main')).toContainText('PIN')
  await page.goto(outing + '/verdict')
  await expect(page.locator('main')).toContainText('Tobias Fennimar has had it since') // nothing came of it
  await page.goto(outing + '/do')
  await hand('2608')
  expect(page.url()).toContain('/ready')
  await expect(page.locator('h1')).toContainText('Inés')
  await expect(page.locator('.head')).toContainText('Inés Carvanal') // and it is her session
  for (const look of [accessible, noSidewaysScroll]) await look(page)
  await expect(page.locator('input[name=watched]')).toHaveCount(2)
  // Until she has answered for herself nothing is begun; what happens is heard all the same.
  await page.goto(outing + '/do')
  await page.locator('button[value=shutdown]').tap()
  await expect(page.locator('.saving')).not.toBeEmpty()
  expect(page.url()).not.toContain('/ready')
  // It stood where others could reach it: it is out no more until its round is run again.
  await page.goto(outing + '/ready')
  await page.locator('label.choice:has(input[name=fit][value=yes])').tap()
  await page.locator('label.choice.all').tap()
  await page.locator('input[name=check_in]').evaluateAll(all => all.forEach(f => { f.value = '03:59' }))
  await page.locator('label.choice:has(input[name=watched][value=no])').tap()
  await Promise.all([page.waitForURL('**/round'), page.locator('button.bar.go').tap()])
  await page.goto('/machines/cantor')
  await expect(page.locator('main')).not.toContainText('salió con')
})
