// What goes wrong: Halts, wrong input, lost links, killed servers, other people's outings.
import { test, expect, signIn, accessible, halt, hurry, takeOut, proveRepair, Walker, start, pins } from './yard.mjs'

// take opens an outing and answers "Ready?".
async function take(page, who, machine) {
  await signIn(page, who)
  await page.goto('/machines/' + machine)
  const walker = new Walker(page, l => l.click())
  await takeOut(page, walker)
  await walker.step()
  return walker
}

// point brings the page to the question of a point.
const point = (page, id) => hurry(page, `.answer-form input[name=check][value=${id}]`)

test.describe(() => {
  test.use({ fast: 20 }) // it warms up once, before the repair is proved

  test('a Halt keeps the machine in for everyone until a technician closes it', async ({ page, open }) => {
    const walker = await take(page, 'tobias', 'verger')
    await point(page, 'seat_belt')
    await page.locator('.not-sound summary').click()
    await page.locator('input[name=note]').fill('Buckle full of sand')
    await walker.moved(() => page.locator('button.fault', { hasText: 'does not hold' }).click())
    await expect(page.locator('.halt-line')).toContainText('Seat belt')
    await accessible(page)
    // A second thing is wrong with the same belt: each has a grade of its own.
    await page.getByText('Something else is wrong here too').click()
    await walker.moved(() => page.locator('.again button.fault', { hasText: 'aded' }).click())
    await expect(page.locator('.given-answer')).toContainText('aded')
    await expect(page.locator('.given .mark')).toHaveClass(/watch/)
    await page.locator('details.done summary').click()
    await expect(page.locator('details.done li', { hasText: 'Seat belt' })).toHaveCount(2)
    await accessible(page)
    await page.goto(page.url().replace(/walk.*/, 'verdict'))
    await expect(page.locator('.halt-card h1')).toContainText('Halt')
    await accessible(page)
    await page.getByText('End this outing').click()
    await expect(page.getByText('This outing has ended')).toBeVisible()
    for (const who of ['maren', 'ruth', 'ines']) {
      const other = await open()
      await signIn(other, who)
      await other.goto('/machines/verger')
      await expect(other.locator('.halt-banner')).toBeVisible()
      await expect(other.locator('.defects').first()).toContainText('Tobias Fennimar')
      await expect(other.locator('form[action$="/outing"]')).toHaveCount(0)
      // Nor by a page from before.
      const at = new URL(other.url()).origin
      const sent = await other.request.post('/machines/verger/outing', { headers: { origin: at, 'sec-fetch-site': 'same-origin' }, form: { id: 'by-' + who + '-0001', both: 'yes' } })
      expect([sent.status(), await sent.text()]).toEqual([409, expect.stringContaining('Tobias Fennimar')])
    }
    const technician = await open()
    await signIn(technician, 'ruth')
    await technician.goto('/machines/verger')
    await technician.locator('.defects a').first().click()
    await accessible(technician)
    await technician.locator('textarea[name=cause]').fill('Sand in the buckle')
    await technician.locator('textarea[name=work]').fill('New buckle, pulled and released ten times')
    const defect = technician.url()
    await Promise.all([technician.waitForURL('**/ready'), technician.locator('form[action$="/repair"] button.bar.go').click()])
    await proveRepair(technician)
    await technician.goto(defect)
    await expect(technician.locator('.story')).toContainText('Proved and signed by Ruth Akindale')
    await technician.goto('/machines/verger')
    await expect(technician.locator('button.bar.go')).toHaveText('Take it out')
  })
})

test('a low tyre is put right, and both readings stand', async ({ page }) => {
  const walker = await take(page, 'ines', 'ostiary')
  await point(page, 'wheel_right_rear')
  await page.locator('input[name=typed]').fill('60,5')
  await walker.moved(() => page.locator('.entry button.bar.go').click())
  await expect(page.locator('.right-now')).toBeVisible()
  await expect(page.locator('.given')).toContainText('83')
  await accessible(page)
  await page.locator('.right-now input[name=typed]').fill('94')
  await walker.moved(() => page.locator('.right-now button.bar.go').click())
  await page.locator('details.done summary').click()
  await expect(page.locator('details.done')).toContainText('60.5')
  await expect(page.locator('details.done')).toContainText('corregido')
})

test('Back leads to the point before, with its answer', async ({ page }) => {
  const walker = await take(page, 'ines', 'ostiary')
  const first = await page.locator('h1').textContent()
  await walker.step()
  const second = await page.locator('h1').textContent()
  await walker.step()
  await page.goBack()
  await expect(page.locator('h1')).toHaveText(second)
  await page.goBack()
  await expect(page.locator('h1')).toHaveText(first)
  await expect(page.locator('.given-answer')).toBeVisible()
  await page.goForward()
  await expect(page.locator('h1')).toHaveText(second)
})

test('what is typed wrong stays, with a plain message', async ({ page }) => {
  const walker = await take(page, 'tobias', 'verger')
  await point(page, 'wheel_right_rear')
  const field = page.locator('input[name=typed]')
  for (const [typed, message] of [['', 'never ticked'], ['1e9', 'not a plain number'], ['-5', 'cannot be'], ['13 mm', 'does not fit'], ['abc', 'not a plain number']]) {
    await field.fill(typed)
    await page.locator('.entry button.bar.go').click()
    await expect(page.locator('.saving.bad:visible').first()).toContainText(message)
    await expect(field).toHaveValue(typed)
  }
  await accessible(page)
  await field.fill('13,5 psi')
  await walker.moved(() => page.locator('.entry button.bar.go').click())
  await expect(page.locator('input[name=check][value=wheel_right_rear]')).toHaveCount(0)
})

test('a dropped link loses nothing and sends once', async ({ page, context }) => {
  await take(page, 'tobias', 'verger')
  const first = await page.locator('h1').textContent()
  // The answer reaches the server; its reply is lost, and those of the retries,
  // until the link is back.
  let lost = true
  await page.route('**/answer', async route => {
    if (!lost) return route.fallback()
    await route.fetch()
    await route.abort('connectionreset')
  })
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('kept on this device')
  await accessible(page)
  lost = false
  await page.waitForFunction(h => document.querySelector('h1').textContent !== h, first, { timeout: 15000 })
  await page.locator('details.done summary').click()
  await expect(page.locator('.done li')).toHaveCount(1)
  expect(await page.evaluate(() => localStorage.getItem('vespers.unsent'))).toBe('[]')
  // No link at all, and the page is left meanwhile: the next page sends it.
  await page.unrouteAll()
  await context.setOffline(true)
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('kept on this device')
  const path = page.url()
  await page.close()
  await context.setOffline(false)
  const next = await context.newPage()
  await next.goto(path)
  await next.waitForFunction(() => localStorage.getItem('vespers.unsent') === '[]', null, { timeout: 15000 })
})

test('a second device goes on where the first stopped; both at once answer once', async ({ page, open }) => {
  const walker = await take(page, 'tobias', 'verger')
  for (let n = 0; n < 5; n++) await walker.step()
  const asked = await page.locator('h1').textContent()
  const other = await open()
  await signIn(other, 'tobias')
  await other.goto('/machines/verger')
  await other.locator('a.bar.go').click()
  await expect(other.locator('h1')).toHaveText(asked)
  const second = new Walker(other, l => l.click())
  await second.step()
  // The first page is stale now.
  await page.locator('.question button.bar.go, .marks .bar').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('Tobias Fennimar')
})

test("another's outing is read only until it is taken over, with a word of one's own", async ({ page, open }) => {
  const walker = await take(page, 'tobias', 'verger')
  for (let n = 0; n < 5; n++) await walker.step()
  const other = await open()
  await signIn(other, 'maren')
  await other.goto('/machines/verger')
  await other.locator('a.bar.go').click()
  await expect(other.locator('.anothers')).toContainText('Tobias Fennimar has this')
  await expect(other.locator('.answer-form')).toHaveCount(0)
  await accessible(other)
  const second = new Walker(other, l => l.click())
  await second.moved(() => other.locator('.anothers button').click())
  await expect(other).toHaveURL(/ready/)
  await second.step()
  await expect(other).toHaveURL(/walk/)
  await expect(other.locator('.answer-form').first()).toBeVisible()
  // Whose it was is told on their own page, and what they said stays theirs.
  await page.locator('.question button.bar.go, .marks .bar').first().click()
  await expect(page.locator('.saving.bad, .problem').first()).toContainText('Maren Oduvale')
  await page.reload()
  await expect(page.locator('.anothers')).toContainText('Maren Oduvale has this')
  await other.goto(other.url().replace(/walk.*/, 'verdict'))
  await expect(other.locator('main')).toContainText('Tobias Fennimar')
})

test('after the server was killed the walk goes on, signed in as before', async ({ page, yard }) => {
  const walker = await take(page, 'tobias', 'verger')
  for (let n = 0; n < 6; n++) await walker.step()
  const path = new URL(page.url()).pathname
  const asked = await page.locator('h1').textContent()
  yard.server.kill('SIGKILL')
  await new Promise(r => setTimeout(r, 300))
  const again = await start(yard.db)
  try {
    const cookies = await page.context().cookies()
    await page.context().addCookies(cookies.map(c => ({ name: c.name, value: c.value, url: again.address })))
    await page.goto(again.address + path)
    await expect(page.locator('h1')).toHaveText(asked)
  } finally { again.server.kill('SIGKILL') }
})

test('a taped switch fails the round for good; a flat battery does not', async ({ page }) => {
  await signIn(page, 'maren')
  await page.goto('/machines/thurifer') // its walk-around is done, by Lucía
  await page.locator('a.bar.go').click()
  await page.waitForURL('**/round')
  const walker = new Walker(page, l => l.click())
  await walker.moved(() => page.locator('.anothers button').click())
  await walker.step()
  // Flat battery: refusals pass, then the engine does not crank.
  await hurry(page, 'button[name=did]')
  await walker.moved(() => page.locator('button[name=did][value=no]').click())
  await expect(page.locator('.problem')).toContainText('prove nothing')
  await accessible(page)
  await walker.step() // back in place
  await expect(page.locator('.where').last()).toContainText('Test 1')
  await halt(page, walker)
  await expect(page.locator('.halt-card')).toContainText('cranked when it must not')
  await page.goto(page.url().replace('verdict', 'slip'))
  await expect(page.locator('.slip.halt .shout')).toContainText('Do not start')
  await accessible(page)
  await page.goto(page.url().replace('slip', 'round'))
  await expect(page).toHaveURL(/verdict/)
})

test('PIN: letters, wrong, pause', async ({ page }) => {
  await page.goto('/sign-in/jonah')
  await page.locator('#pin').fill('abcd')
  await page.locator('#pin').press('Enter')
  await expect(page.locator('.problem')).toContainText('only digits')
  for (let n = 0; n < 3; n++) {
    await page.locator('#pin').fill('0000')
    await page.locator('#pin').press('Enter')
    await expect(page.locator('.problem')).toBeVisible()
  }
  await expect(page.locator('.problem')).toContainText('Too many')
  await accessible(page)
  await page.locator('#pin').fill(pins.jonah)
  await page.locator('#pin').press('Enter')
  await expect(page.locator('.problem')).toContainText('Too many')
})
