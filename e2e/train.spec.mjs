// A sweeper behind the electric cart, each with its own walk, steps and slip: who pulls it
// is said once, and from then on neither moves before both are ready.
import { test, expect, signIn, follow, takeOut, hurry, accessible, noSidewaysScroll, bigTargets, Walker } from './yard.mjs'

test.use({ fast: 60, time: '07:10' })

// released takes a machine from its page to its release, and gives the path of its outing.
async function released(page, machine) {
  await page.goto('/machines/' + machine)
  const walker = new Walker(page)
  await takeOut(page, walker)
  const outing = page.url().match(/\/outings\/[^/?]+/)[0]
  await hurry(page, 'form[action$="/release"]')
  await Promise.all([page.waitForNavigation(), page.locator('form[action$="/release"] button.go').tap()])
  return outing
}

// held follows a procedure as far as it goes, and gives what keeps its next step from being
// done: said before anybody does it.
async function held(page, outing, procedure) {
  await follow(page, outing, procedure)
  await page.goto(outing + '/do')
  await expect(page.locator('.runner .answers')).toHaveCount(0)
  return page.locator('.runner .problem').innerText()
}

test('a sweeper behind the cart', async ({ open }) => {
  const page = await open({ viewport: { width: 390, height: 844 }, hasTouch: true })
  await signIn(page, 'tobias')
  const cart = await released(page, 'almsman')
  const sweeper = await released(page, 'pardoner')

  // Coupled to what? Nothing is coupled before that is said.
  await page.goto(sweeper + '/do')
  await expect(page.locator('.link-ask legend')).toHaveText('What pulls it')
  expect(await held(page, sweeper, 'work')).toContain('Say first what pulls it')
  await page.goto(sweeper + '/do')
  await page.locator('.link-ask label.choice', { hasText: 'Almsman' }).tap()
  for (const look of [accessible, noSidewaysScroll, bigTargets]) await look(page)
  await Promise.all([page.waitForNavigation(), page.locator('.link-ask button').tap()])
  await expect(page.locator('.together').first()).toContainText('Pulled by Almsman')

  // Coupled to a cart that stands braked; moved by one that is switched on, and that knows
  // what hangs behind it.
  expect(await held(page, sweeper, 'work')).toContain('Set the brake of Almsman first')
  for (const procedure of ['start', 'work', 'shutdown']) await follow(page, cart, procedure)
  expect(await held(page, sweeper, 'work')).toContain('Start Almsman first')
  await page.goto(cart + '/do')
  await expect(page.locator('.together').first()).toContainText('Behind it: Pardoner')
  for (const look of [accessible, noSidewaysScroll]) await look(page)
  await follow(page, cart, 'start')
  await follow(page, sweeper, 'work')
  for (const procedure of ['work', 'shutdown', 'charge', 'clean', 'store']) {
    await page.goto(cart + '/do')
    if (await page.locator(`button[name=procedure][value=${procedure}]`).count()) await follow(page, cart, procedure)
  }
  for (const procedure of ['shutdown', 'clean', 'store']) await follow(page, sweeper, procedure)
  for (const outing of [sweeper, cart]) {
    await page.goto(outing + '/do')
    await Promise.all([page.waitForNavigation(), page.locator('form[action$="/end"] button').tap()])
    await expect(page.locator('.ended')).toHaveCount(1)
  }
})

test('in Spanish, and pulled by one that is not in the book', async ({ open }) => {
  const page = await open({ viewport: { width: 390, height: 844 }, hasTouch: true })
  await signIn(page, 'ines')
  await released(page, 'almsman')
  const sweeper = await released(page, 'pardoner')
  await page.goto(sweeper + '/do')
  await expect(page.locator('.link-ask legend')).toHaveText('Quién la jala')
  for (const look of [accessible, noSidewaysScroll]) await look(page)
  await page.locator('.link-ask label.choice').last().tap()
  await Promise.all([page.waitForNavigation(), page.locator('.link-ask button').tap()])
  await expect(page.locator('.together')).toHaveCount(0)
  expect((await follow(page, sweeper, 'work')).length).toBeGreaterThan(6)
})
