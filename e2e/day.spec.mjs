// A whole day, from ready to home: every stage and every procedure, in one language or the
// other; what is left of it the next time. The other machines have theirs in
// machines.spec.mjs, with a fault on the way.
import { test, expect, signIn, follow, takeOut, hurry, Walker } from './yard.mjs'

test.use({ fast: 60, time: '06:10' })

const days = [
  ['verger', 'en', ['work', 'shutdown', 'fuel', 'clean', 'grease', 'store']],
  ['archdeacon', 'es', ['work', 'shutdown', 'clean', 'grease', 'store']],
]

for (const [machine, language, procedures] of days) {
  test(`${machine}: ready to home (${language})`, async ({ page }) => {
    await signIn(page, 'maren')
    if (language === 'es') {
      await page.goto('/me')
      await page.locator('input[name=language][value=es], select[name=language]').first().evaluate(f => { if (f.type === 'radio') f.checked = true; else f.value = 'es' })
      await Promise.all([page.waitForNavigation(), page.locator('main form button.go').first().click()])
    }
    const walker = new Walker(page, l => l.click())
    await page.goto('/machines/' + machine)
    await takeOut(page, walker)
    const outing = page.url().match(/\/outings\/[^/?]+/)[0]
    // Before it is ready nothing of the day is begun.
    const early = await page.request.post(outing + '/do/begin', { form: { id: 'early-' + machine, machine, procedure: 'work' } })
    expect(early.status()).toBe(422)
    await hurry(page, 'form[action$="/release"]')
    await walker.moved(() => walker.press(page.locator('form[action$="/release"] button.go')))
    let asked = 0
    for (const procedure of procedures) {
      const steps = await follow(page, outing, procedure)
      expect(steps.length, procedure).toBeGreaterThan(0)
      asked += steps.length
      if (procedure === 'work') { // it stands running: it is not brought home so
        const end = await page.request.post(outing + '/end', { form: { id: 'home-too-early-' + machine } })
        expect(end.status()).toBe(422)
        expect(await end.text()).toContain(language === 'es' ? 'se apague' : 'shut down')
      }
    }
    expect(asked).toBeGreaterThan(15)
    await page.goto(outing + '/do')
    await walker.moved(() => walker.press(page.locator('form[action$="/end"] button')))
    await expect(page.locator('.ended')).toContainText('Maren')
    // The next time it begins with how it was left.
    await page.goto('/machines/' + machine)
    await expect(page.locator('html')).toHaveAttribute('lang', language)
    await expect(page.locator('main')).toContainText(language === 'es' ? 'caliente' : 'warm')
    test.info().annotations.push({ type: 'taps', description: `${machine}: ${asked} steps of procedures` })
  })
}
