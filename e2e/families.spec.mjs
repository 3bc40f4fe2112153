// A short day of every family that has none of its own elsewhere: from its page to the
// release, then every procedure that its page of steps names, and home. What is asked is
// read from the pages, nothing of a family is known here.
import { test, expect, signIn, follow, takeOut, hurry, accessible, noSidewaysScroll, Walker } from './yard.mjs'

test.use({ fast: 90, time: '07:10' })

const days = [
  ['psalter', 'ines'], ['bellringer', 'tobias'], ['acolyte', 'ines'], ['candlemas', 'tobias'],
  ['gravedigger', 'tobias'], ['chorister', 'tobias'], ['wayfarer', 'tobias'], ['organist', 'ines'], ['subdeacon', 'tobias'], ['rector', 'ines'], ['hermit', 'tobias'],
  ['provost', 'tobias'], ['succentor', 'ines'], ['sacrist', 'tobias'], ['anchorite', 'ines'], ['cellarer', 'tobias'],
]
// A trailer works loaded; what has worked is loaded, and started again once it is off. The
// service position of a deck is reached with the engine running, that of a reel without.
const order = ['start', 'work', 'load', 'work', 'unload', 'start', 'service', 'shutdown', 'fuel', 'charge', 'clean', 'grease', 'service', 'backlap', 'load', 'unload', 'store']

for (const [machine, who] of days) {
  test(`${machine}: a short day`, async ({ open }) => {
    const phone = { width: 390, height: 844 }, spanish = who === 'ines'
    const page = await open({ viewport: phone, hasTouch: true })
    await signIn(page, who)
    await page.goto('/machines/' + machine)
    for (const look of [accessible, noSidewaysScroll]) await look(page)
    for (const path of ['controls', 'bench', 'help', 'label']) expect((await page.goto(`/machines/${machine}/${path}`)).status(), path).toBeLessThan(500)
    await page.goto('/machines/' + machine)
    const walker = new Walker(page)
    await takeOut(page, walker)
    await expect(page.locator('html')).toHaveAttribute('lang', spanish ? 'es' : 'en')
    const outing = page.url().match(/\/outings\/[^/?]+/)[0]
    await hurry(page, 'form[action$="/release"]')
    await Promise.all([page.waitForNavigation(), page.locator('form[action$="/release"] button.go').tap()])
    await expect(page.locator('.go-card')).toHaveCount(1)
    let steps = 0
    const done = new Set()
    const go = async procedures => {
      for (const procedure of procedures) {
        await page.goto(outing + '/do')
        if (!await page.locator(`button[name=procedure][value=${procedure}]`).count()) continue
        steps += (await follow(page, outing, procedure)).length
        done.add(procedure)
      }
    }
    await go(order)
    if (!done.has('work')) await go(['load', 'unload', 'start', 'work', 'shutdown', 'store']) // coupled first
    expect(steps).toBeGreaterThan(6)
    expect(done).toContain('work')
    await page.goto(outing + '/do')
    await noSidewaysScroll(page)
    await Promise.all([page.waitForNavigation(), page.locator('form[action$="/end"] button').tap()])
    await expect(page.locator('.ended')).toHaveCount(1)
  })
}
