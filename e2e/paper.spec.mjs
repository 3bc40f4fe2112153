// The paper for a day without power: printed, written, and copied in by who wrote it.
import { test, expect, signIn, accessible, noSidewaysScroll } from './yard.mjs'

test.use({ time: '11:40' })

const phone = { viewport: { width: 390, height: 844 }, hasTouch: true }

test('a paper is printed, and copied in line by line', async ({ open }) => {
  const desk = await open()
  await signIn(desk, 'maren')
  await desk.goto('/paper')
  await accessible(desk)
  await desk.getByRole('link', { name: 'Psalter' }).click()
  await accessible(desk)
  await noSidewaysScroll(desk)
  const code = (await desk.locator('.blank-code b').textContent()).trim()
  const printed = await desk.locator('.blank-lines .blank-number').allTextContents()
  const numbers = printed.filter(n => /\d/.test(n))
  expect(numbers).toEqual(numbers.map((_, i) => String(i + 1)))
  await desk.emulateMedia({ media: 'print' })
  await expect(desk.locator('header.head')).toBeHidden()
  await expect(desk.locator('.blank .caution').first()).toBeVisible()

  const page = await open(phone)
  await signIn(page, 'ines')
  await page.goto('/paper')
  await noSidewaysScroll(page)
  const begin = async (typed, clock) => {
    await page.locator('input[name=code]').fill(typed)
    await page.locator('input[name=time]').fill(clock)
    await page.locator('button.go').tap()
  }
  await begin('AAAA-AAAA', '07:05')
  await expect(page.locator('.saving.bad')).toContainText('Ninguna máquina')
  await expect(page.locator('.saving.bad')).toBeInViewport()
  expect(await page.locator('input[name=code]').inputValue()).toBe('AAAA-AAAA')
  await begin(code, '23:30')
  await expect(page.locator('.saving.bad')).toContainText('todavía no llega')
  await begin(code.toLowerCase().replace('-', ' '), '07:05')
  await page.waitForURL('**/outings/*/paper')
  expect(await page.locator('.paper-lines .blank-number').allTextContents()).toEqual(numbers)
  await accessible(page)
  await noSidewaysScroll(page)

  // Nothing of a runner is offered: nobody is told to start anything at a desk.
  const outing = page.url().match(/\/outings\/[^/]+/)[0]
  for (const step of ['ready', 'walk', 'round', 'verdict', 'do', 'fuel', 'meter']) {
    await page.goto(outing + '/' + step)
    expect(page.url(), step).toMatch(/\/paper$/)
  }

  // What cannot be is refused where it was typed, and stays there.
  const reading = page.locator('form.paper-reading:has(input[name=typed])').first(), field = reading.locator('input[name=typed]')
  await field.fill('99999999')
  await reading.locator('button').tap()
  await expect(page.locator('.saving.bad')).toBeInViewport()
  expect(await page.locator('form.paper-reading input[name=typed]').first().inputValue()).toBe('99999999')

  // One line is not in order, one test went wrong, the rest of the points are as they should be.
  const faulty = page.locator('.paper-lines li', { has: page.locator('button[value=sound]') }).first()
  const name = (await faulty.locator('p b').first().textContent()).trim()
  await faulty.locator('summary').tap()
  await Promise.all([page.waitForNavigation(), faulty.locator('button.fault').first().tap()])
  while (await page.locator('button[value=sound]').count()) await Promise.all([page.waitForNavigation(), page.locator('button[value=sound]').first().tap()])
  const bad = page.locator('.paper-lines li', { has: page.locator('button[value=bad]') }).first()
  await bad.locator('summary').tap()
  await Promise.all([page.waitForNavigation(), bad.locator('button[value=bad]').tap()])
  await expect(page.locator('.given-answer', { hasText: 'Alto' })).toHaveCount(1)
  await accessible(page)

  // Without a word whether it went out it is not finished.
  const end = page.locator('form[action$="/finish"]')
  await end.locator('label', { hasText: 'Sí, salió' }).tap()
  await end.locator('button').tap()
  await expect(page.locator('.saving.bad', { hasText: 'hora' })).toBeVisible()
  await end.locator('input[name=until]').fill('09:30')
  await Promise.all([page.waitForNavigation(), end.locator('button').tap()])
  await expect(page.getByText('no debió salir')).toBeVisible()
  await accessible(page)

  // It stands against the machine, from when it was written, and the machine stays in.
  await page.goto('/machines/psalter')
  await expect(page.locator('form[action$="/outing"] button.bar.go')).toHaveCount(0)
  await expect(page.locator('.defects')).toContainText(name)
  await page.locator('.defects a', { hasText: name }).first().tap()
  await expect(page.locator('main')).toContainText('07:05')

  // The day shows it as what it is.
  await desk.goto('/day')
  await expect(desk.locator('main')).toContainText('a paper is copied in by Inés Carvanal')
  await expect(desk.locator('main')).toContainText('1 copied from paper')
  expect(await desk.content()).not.toContain('⟨')

  // Somebody else's paper is theirs.
  const tobias = await open(phone)
  await signIn(tobias, 'tobias')
  await tobias.goto(outing + '/paper')
  await expect(tobias.locator('.paper-lines form')).toHaveCount(0)
})

test('a paper is copied by keyboard alone, over a link that drops', async ({ open }) => {
  const desk = await open()
  await signIn(desk, 'ines')
  await desk.goto('/machines/psalter/blank')
  const code = (await desk.locator('.blank-code b').textContent()).trim()
  await desk.goto('/paper')
  const tabTo = async selector => {
    for (let n = 0; n < 60; n++) {
      if (await desk.evaluate(s => document.activeElement.matches(s), selector)) return
      await desk.keyboard.press('Tab')
    }
    throw new Error('no way by keyboard to ' + selector)
  }
  await tabTo('input[name=code]')
  await desk.keyboard.type(code)
  await tabTo('input[name=time]')
  await desk.keyboard.type('0705am')
  // The server is not heard: what is typed stays, and goes by itself.
  await desk.context().setOffline(true)
  await desk.keyboard.press('Enter')
  await expect(desk.locator('.saving.wait')).toBeVisible()
  expect(await desk.locator('input[name=code]').inputValue()).toBe(code)
  await desk.context().setOffline(false)
  await desk.waitForURL('**/outings/*/paper')
  const given = desk.locator('.given-answer')
  // Each line in its turn: the page comes back at the next one.
  let lines = 0, dropped = false
  for (let n = 0; n < 60; n++) {
    const next = desk.locator('#next')
    if (await next.evaluate(e => e.tagName) !== 'LI') break
    const typed = await next.locator('input[name=typed]:visible').count()
    const before = await given.count()
    if (lines) await expect(next).toBeFocused()
    await expect(next).toBeInViewport()
    if (typed) {
      const field = next.locator('input[name=typed]').first()
      const small = await field.evaluate(e => (e.closest('label').textContent.match(/\d+([.,]\d+)?/) || ['1'])[0])
      await tabTo('#next input[name=typed]')
      await desk.keyboard.type(small)
      if (!dropped) {
        await desk.context().setOffline(true)
        await desk.keyboard.press('Enter')
        await expect(desk.locator('.saving.wait')).toBeInViewport()
        expect(await field.inputValue()).toBe(small)
        expect(await given.count()).toBe(before)
        await desk.context().setOffline(false)
        dropped = true
      } else await desk.keyboard.press('Enter')
    } else {
      await tabTo(await next.locator('button[value=sound]').count() ? '#next button[value=sound]' : await next.locator('button[value=good]').count() ? '#next button[value=good]' : '#next button')
      const seconds = next.locator('input[name=seconds]')
      if (await seconds.count()) {
        await seconds.focus()
        await desk.keyboard.type('2')
      }
      await desk.keyboard.press('Enter')
    }
    await expect(given).not.toHaveCount(before)
    await desk.waitForLoadState()
    lines++
  }
  expect(dropped).toBe(true)
  expect(lines).toBeGreaterThan(12)
})
