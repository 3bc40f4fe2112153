// What waits on a device: whose it is, what replaces it, what is refused, and
// devices that cannot keep anything.
import { test, expect, signIn, takeOut, halt, hurry, Walker } from './yard.mjs'

const queue = page => page.evaluate(() => JSON.parse(localStorage.getItem('vespers.unsent') || '[]'))

// onTheWalk brings a page to the seat belt of Verger.
async function onTheWalk(page, who) {
  await signIn(page, who)
  await page.goto('/machines/verger')
  const walker = new Walker(page, l => l.click())
  await takeOut(page, walker)
  await walker.step()
  await hurry(page, '.answer-form input[name=check][value=seat_belt]')
  return walker
}

test("an answer waits for its person, and nobody else's session sends it", async ({ page, context }) => {
  await onTheWalk(page, 'tobias')
  const walk = page.url(), asked = await page.locator('h1').textContent()
  await page.route('**/answer', route => route.abort('connectionreset'))
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('kept on this device')
  await page.unrouteAll()
  await context.clearCookies() // the session ends, the device stays
  const other = await context.newPage()
  const posted = []
  other.on('request', r => { if (r.method() === 'POST' && r.url().endsWith('/answer')) posted.push(r.url()) })
  await page.close()
  await signIn(other, 'maren')
  await expect(other.locator('.unsent')).toContainText('An answer of Tobias Fennimar waits on this device')
  await other.goto(walk)
  await other.waitForTimeout(1500)
  expect(posted).toEqual([])
  expect((await queue(other)).map(i => i.person)).toEqual(['tobias'])
  await expect(other.locator('h1')).toHaveText(asked)
  await other.locator('form[action="/sign-out"] button').click()
  await other.waitForURL('**/sign-in')
  // On a page without a form of its own it is sent too.
  await signIn(other, 'tobias')
  await expect.poll(() => queue(other)).toEqual([])
  await other.goto(walk.replace(/\?.*/, ''))
  await expect(other.locator('h1')).not.toHaveText(asked)
})

test('a later answer to the same point takes the place of one that was not sent', async ({ page }) => {
  await onTheWalk(page, 'tobias')
  let arrived = 0
  await page.route('**/answer', route => { arrived++; return route.abort('connectionreset') })
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('kept on this device')
  await page.locator('.not-sound summary').click()
  await page.locator('button.fault', { hasText: 'does not hold' }).click()
  await expect.poll(async () => (await queue(page)).length).toBe(1)
  await expect.poll(async () => (await queue(page))[0].fields.find(f => f[0] === 'answer')[1]).toBe('fault')
  expect(arrived).toBeGreaterThan(1)
  await page.unrouteAll()
  await page.waitForFunction(() => localStorage.getItem('vespers.unsent') === '[]', null, { timeout: 20000 })
  await expect(page.locator('.halt-line')).toContainText('Seat belt')
})

test('a refused answer is kept, named and linked until somebody has seen it', async ({ page, open, context }) => {
  await onTheWalk(page, 'tobias')
  await page.route('**/answer', route => route.abort('connectionreset'))
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('kept on this device')
  const walk = page.url()
  await page.close()
  const elsewhere = await open()
  await signIn(elsewhere, 'tobias')
  await elsewhere.goto(walk)
  await elsewhere.locator('.not-sound summary').click()
  await new Walker(elsewhere, l => l.click()).moved(() => elsewhere.locator('button.fault', { hasText: 'does not hold' }).click())
  const next = await context.newPage()
  await next.goto('/yard')
  await expect(next.locator('.unsent')).toContainText('Not saved: Seat belt')
  await next.reload()
  await expect(next.locator('.unsent a')).toHaveAttribute('href', /\/outings\/.*walk/)
  await next.locator('.unsent button').click()
  await expect(next.locator('.unsent')).toBeHidden()
  expect(await queue(next)).toEqual([])
})

test('a device that may keep nothing still sends, and says so where it cannot', async ({ open }) => {
  const page = await open()
  await page.addInitScript(() => { Storage.prototype.setItem = () => { throw new DOMException('full', 'QuotaExceededError') } })
  await onTheWalk(page, 'tobias')
  const asked = await page.locator('h1').textContent()
  await page.route('**/answer', route => route.abort('connectionreset'))
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('.saving:visible').first()).toContainText('cannot keep answers')
  await page.unrouteAll()
  await expect(page.locator('h1')).not.toHaveText(asked, { timeout: 20000 })
})

test('a browser that ignores the pressed button still sends which one it was', async ({ open }) => {
  const page = await open()
  await page.addInitScript(() => {
    const Form = FormData
    window.FormData = function (form) { return new Form(form) }
    delete AbortSignal.timeout
  })
  await signIn(page, 'lucia')
  await page.goto('/machines/thurifer')
  await page.locator('a.bar.go').click()
  await page.waitForURL('**/round')
  const walker = new Walker(page, l => l.click())
  await walker.step() // in place, nobody near
  await halt(page, walker)
  await expect(page.locator('.halt-card')).toBeVisible()
})
