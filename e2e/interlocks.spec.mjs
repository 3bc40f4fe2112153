// Rounds, the search for a fault and the bench, as hands and eyes meet them.
import { test, expect, signIn, accessible, noSidewaysScroll, bigTargets, halt, hurry, proveRepair, Walker } from './yard.mjs'

test.use({ fast: 60 })

// Thurifer stands before its round: its walk-around is done. It is Lucía's;
// anybody else takes it over, and is asked whether they are ready.
async function atRound(page, who) {
  await signIn(page, who)
  await page.goto('/machines/thurifer')
  await page.locator('a.bar.go').click()
  await page.waitForURL('**/round')
  const walker = new Walker(page, l => l.click())
  if (who !== 'lucia') {
    await expect(page.locator('button[name=did], button[name=result]')).toHaveCount(0)
    await walker.moved(() => page.locator('.anothers button').click())
    await page.waitForURL('**/ready')
    await walker.step()
    await page.waitForURL('**/round')
  }
  return walker
}

test('a failed stop: Halt at once; the technician finds the switch and takes it into the repair', async ({ page, open }) => {
  const walker = await atRound(page, 'lucia')
  await hurry(page, 'button[name=did]')
  await hurry(page, 'input[name=test]') // it starts
  await halt(page, walker)
  await expect(page.locator('.halt-card')).toBeVisible()
  await expect(page.locator('.halt-card')).toContainText('llave')
  await accessible(page)
  await page.goto('/yard')
  await expect(page.locator('.bay.halt', { hasText: 'Thurifer' })).toBeVisible()

  const hand = await open()
  await signIn(hand, 'tobias')
  await hand.goto('/machines/thurifer')
  await hand.locator('.defects a').first().click()
  await expect(hand.locator('a[href$="/find"]')).toHaveCount(0)
  expect((await hand.goto(hand.url() + '/find')).status()).toBe(403)

  const technician = await open({ viewport: { width: 390, height: 844 } })
  await signIn(technician, 'ruth')
  await technician.goto('/machines/thurifer')
  await technician.locator('.defects a').first().click()
  await technician.locator('a[href$="/find"]').click()
  await expect(technician.locator('h1')).toHaveText('Find the switch')
  const before = await technician.locator('.suspects li').count()
  expect(before).toBeGreaterThan(1)
  await accessible(technician)
  await noSidewaysScroll(technician)
  await bigTargets(technician)
  const search = new Walker(technician, l => l.click())
  for (let n = 0; n < 8 && await technician.locator('button[name=seen]').count(); n++) {
    const left = await technician.locator('.suspects li').count()
    await search.moved(() => technician.locator('button[name=seen][value=good]').click())
    expect(await technician.locator('.suspects li').count()).toBeLessThanOrEqual(left)
  }
  await expect(technician.locator('.suspects li')).toHaveCount(1)
  await accessible(technician)
  const suspect = await technician.locator('.suspects li').textContent()
  await technician.getByRole('button', { name: 'Take this into the repair' }).click()
  await expect(technician.locator('textarea[name=cause]')).toHaveValue(suspect)
  await technician.locator('textarea[name=work]').fill('New switch, bracket straightened')
  const defect = technician.url()
  await Promise.all([technician.waitForURL('**/ready'), technician.locator('form[action$="/repair"] button.bar.go').click()])
  await proveRepair(technician)
  await technician.goto(defect)
  await expect(technician.locator('.story')).toContainText('Proved and signed by Ruth Akindale')
})

test('an old page of the search answers for no newer test, and the search can begin again', async ({ page, context }) => {
  await signIn(page, 'ruth')
  await page.goto('/machines/beadle')
  await page.locator('.defects a').first().click()
  await page.locator('a[href$="/find"]').click()
  const old = await context.newPage()
  await old.goto(page.url())
  const search = new Walker(page, l => l.click())
  await search.moved(() => page.locator('button[name=seen][value=bad]').click())
  const now = await page.locator('.suspects').textContent()
  await old.locator('button[name=seen][value=good]').click()
  await expect(old.locator('.saving.bad:visible').first()).toContainText('older than the last test')
  await old.reload()
  expect(await old.locator('.suspects').textContent()).toBe(now)
  await page.reload()
  await page.locator('details summary', { hasText: 'counted' }).click()
  await search.moved(() => page.getByRole('button', { name: 'Begin the search again' }).click())
  expect(await page.locator('.suspects li').count()).toBeGreaterThan(1)
})

// runs says that the engine was started again, where a test asks for that.
async function runs(page) {
  const button = page.locator('[data-first] > button')
  if (await button.count()) await button.click()
}

test('a stop near its limit is timed once more, and over it is Halt without a search for switches', async ({ page, open }) => {
  const walker = await atRound(page, 'maren')
  await hurry(page, 'input[name=seconds]')
  await accessible(page)
  await runs(page)
  await page.locator('input[name=seconds]').fill('5,9')
  await walker.moved(() => page.locator('button[name=result][value=good]').click())
  await expect(page.locator('.problem')).toContainText('too close to the limit')
  await runs(page)
  await page.locator('input[name=seconds]').fill('6.4')
  await walker.moved(() => page.locator('button[name=result][value=good]').click())
  await expect(page.locator('.halt-card')).toContainText('6.4')
  const technician = await open()
  await signIn(technician, 'ruth')
  await technician.goto('/machines/thurifer')
  await technician.locator('.defects a').first().click()
  await expect(technician.locator('textarea[name=cause]')).toBeVisible()
  await expect(technician.locator('a[href$="/find"]')).toHaveCount(0)
})

test('a clean round by keyboard alone, read as words', async ({ page, open }) => {
  await atRound(page, 'maren')
  // tabTo moves the focus to an element as a keyboard does.
  const tabTo = async selector => {
    for (let n = 0; n < 60; n++) {
      await page.keyboard.press('Tab')
      if (await page.evaluate(s => document.activeElement.matches(s), selector)) return
    }
    throw new Error('the keyboard does not reach ' + selector)
  }
  for (let n = 0; n < 60 && /\/round|\/do/.test(page.url()); n++) {
    if (await page.locator('.wait-card').count()) { // it warms up
      await page.waitForTimeout(300)
      await page.reload()
      continue
    }
    if (await page.locator('[data-first] > button').count()) {
      await tabTo('[data-first] > button')
      await page.keyboard.press('Enter')
    }
    if (page.url().includes('/do')) { // its engine is started
      await tabTo('.answers button.bar.go')
      await new Walker(page).moved(() => page.keyboard.press('Enter'))
      continue
    }
    await expect(page.locator('.todo li:visible, .act:visible, .answers .go:visible').first()).toBeVisible()
    if (await page.locator('input[name=test], button[name=did]').count()) {
      await expect(page.locator('h1')).not.toBeEmpty()
      await expect(page.locator('.rung.watched figcaption')).toHaveCount(1)
    }
    if (await page.locator('input[name=seconds]').count()) {
      await tabTo('input[name=seconds]')
      await page.keyboard.type('3')
    }
    await tabTo('.question form button.bar.go')
    await new Walker(page).moved(() => page.keyboard.press('Enter'))
  }
  await expect(page).toHaveURL(/walk\?.*phase=running|verdict/)
  const lead = await open()
  await signIn(lead, 'maren')
  await lead.goto('/wall')
  await accessible(lead)
  const rows = lead.locator('.proofs li[data-words]'), row = rows.filter({ hasText: 'Thurifer' })
  await expect(row).toContainText('Proved by Maren Oduvale')
  await expect(lead.locator('.proofs').last()).toContainText('engine may run')
  await expect(rows.filter({ hasText: 'Cantor' })).toContainText('reaches the limit')
  await expect(lead.locator('section.proofs', { hasText: 'Never proved' })).toContainText('Ostiary')
  await lead.locator('#find').fill('cantor')
  await expect(lead.locator('.proofs li[data-words]:visible')).toHaveCount(1)
  await expect(lead.locator('section.proofs:visible')).toHaveCount(1)
  await lead.keyboard.press('Enter')
  await expect(rows).toHaveCount(1)
})

for (const [who, words] of [['tobias', { set: 'Set the parking brake', contacts: 'nothing is bypassed' }], ['ines', { set: 'Ponga el freno de estacionamiento', contacts: 'nada se puentea' }]]) {
  test(`it will not start, asked by ${who}`, async ({ open }) => {
    const page = await open({ viewport: { width: 390, height: 844 } })
    await signIn(page, who)
    await page.goto('/machines/verger')
    await page.locator('a[href$="/help"]').click()
    await accessible(page)
    await noSidewaysScroll(page)
    await page.locator('input[name=c_parking_brake][value=released]').check()
    await page.locator('main form button.bar.go').click()
    await expect(page.locator('.help-answer li')).toHaveCount(1)
    await expect(page.locator('.help-answer')).toContainText(words.set)
    await accessible(page)
    await bigTargets(page)
    await page.locator('input[name=c_parking_brake][value=set]').check()
    await page.locator('main form button.bar.go').click()
    await expect(page.locator('.help-answer')).toContainText(words.contacts)
    await page.locator('input[name=seen][value=no_drive]').check()
    await page.locator('main form button.bar.go').click()
    await expect(page.locator('.help-answer li')).toHaveCount(1)
  })
}

test('the bench: what the contacts let happen, and a hidden fault', async ({ page }) => {
  await signIn(page, 'jonah')
  await page.goto('/machines/verger/bench')
  await expect(page.locator('.rung')).toHaveCount(3)
  await accessible(page)
  const state = page.locator('.state-words'), key = page.getByRole('button', { name: 'Turn the key' })
  const put = (control, way) => page.locator('.control', { hasText: control }).getByRole('button', { name: way, exact: true }).click()
  await put('Parking brake', 'released')
  await key.press('Enter')
  await expect(state).toContainText('does not crank')
  await expect(page.locator('.rung').first()).toContainText('no')
  await put('Parking brake', 'set')
  await key.click()
  await expect(state).toContainText('The engine runs.')
  await put('Blade switch', 'on')
  await expect(state).toContainText('Moving: the blades')
  await put('Seat', 'empty')
  await expect(state).toContainText('The engine has stopped')
  await expect(state).toContainText('Still: the blades')

  await page.getByRole('link', { name: 'Hide a fault' }).click()
  await expect(page.locator('h1')).toHaveText('One contact lies')
  await key.click()
  const riddle = page.url()
  await page.getByRole('button', { name: 'That is it' }).click()
  await expect(page.locator('main [role=status]').first()).toContainText('1 action')
  await accessible(page)
  const hidden = (await page.locator('.question').textContent()).match(/It was: ([^.]*)\./)[1]
  await page.goto(riddle)
  await page.locator('select[name=guess]').selectOption({ label: hidden })
  await page.getByRole('button', { name: 'That is it' }).click()
  await expect(page.locator('.go-card h2')).toHaveText('Found')
})
