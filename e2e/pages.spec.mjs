// Every page on every screen: accessible, inside its width, in the reader's language.
import { test, expect, signIn, accessible, noSidewaysScroll } from './yard.mjs'

const size = { tablet: { width: 1280, height: 800 }, phone: { width: 390, height: 844 } }

const everyone = ['/rules', '/yard', '/yard/list', '/day', '/vespers', '/due', '/me', '/me/pin', '/me/calendar', '/paper', '/machines/beadle', '/machines/precentor', '/machines/almoner', '/machines/apparitor/bench', '/machines/chorister/help?seen=dead&c_parking_brake=released', '/machines/archdeacon/controls', '/machines/lector/controls', '/machines/sexton/steps', '/machines/crozier/steps', '/no-such-page']

for (const [device, viewport] of Object.entries(size)) {
  for (const dark of device === 'tablet' ? [false, true] : [false]) {
    // The lead sees every page; in Spanish the narrow screen is the test, and a
    // visitor's pages are fewer, not other ones. The lantern changes colours, not
    // the layout: one screen shows them.
    for (const who of dark ? ['maren'] : ['maren', device === 'phone' ? 'ines' : 'osk']) {
      test(`every page of ${who}, ${device}${dark ? ', lantern' : ''}`, async ({ open }) => {
        const page = await open({ viewport, colorScheme: dark ? 'dark' : 'light' })
        const missing = []
        const look = async path => {
          await page.goto(path)
          await accessible(page, dark ? 'colours' : device === 'phone' ? 'layout' : '')
          await noSidewaysScroll(page)
          if ((await page.content()).includes('⟨')) missing.push(path)
        }
        for (const path of ['/sign-in', '/sign-in/' + who]) await look(path)
        await signIn(page, who)
        for (const path of everyone) await look(path)
        if (who === 'maren') {
          for (const path of ['/people', '/people/osk/left', '/week', '/paper', '/machines/almoner/blank', '/machines-new', '/sheets', '/models', '/machines-many', '/machines/sacrist/height?left=12&right=12&want=15', '/machines/crozier/steps', '/wall', '/patterns', '/day?on=2026-01-05', '/defects', '/find?grade=halt']) await look(path)
          for (const machine of ['almoner', 'thurifer', 'cantor']) {
            await page.goto('/machines/' + machine)
            const outing = await page.locator('a.bar.go').getAttribute('href')
            for (const step of ['ready', 'walk', 'round', 'verdict', 'slip', 'happened']) await look(outing + '/' + step)
            if (machine === 'cantor') for (const step of ['do', 'fuel', 'check-in']) await look(outing + '/' + step)
          }
          await page.goto('/machines/beadle')
          const defect = await page.locator('.defects a').first().getAttribute('href')
          for (const path of [defect, defect + '/tag']) await look(path)
        }
        expect(missing).toEqual([])
      })
    }
  }
}

test('read aloud: the question and its cautions, in the person\'s language', async ({ open }) => {
  const page = await open({ viewport: size.phone, hasTouch: true })
  await page.addInitScript(() => {
    window.said = []
    Object.defineProperty(window, 'SpeechSynthesisUtterance', { value: class { constructor(text) { this.text = text } } })
    Object.defineProperty(window, 'speechSynthesis', { value: { speak: one => window.said.push(one), cancel: () => window.said.push('cancelled') } })
  })
  await signIn(page, 'ines')
  await page.goto('/machines/almoner')
  await page.goto(await page.locator('a.bar.go').getAttribute('href'))
  const button = page.locator('.happened-link .aloud')
  const box = await button.boundingBox()
  expect(Math.min(box.width, box.height)).toBeGreaterThanOrEqual(56)
  await page.evaluate(() => { window.said.length = 0 })
  await button.tap()
  await expect(button).toHaveAttribute('aria-pressed', 'true')
  const said = await page.evaluate(() => window.said.filter(one => one.text).map(one => [one.text, one.lang]))
  expect(said[0]).toEqual([(await page.locator('h1').textContent()).replace(/\s+/g, ' ').trim(), 'es'])
  expect(said[1][0]).toBe(await page.locator('.look').textContent())
  // A second tap stops it; one that has come to its end may be begun again.
  await button.tap()
  expect(await page.evaluate(() => window.said.at(-1))).toBe('cancelled')
  await expect(button).toHaveAttribute('aria-pressed', 'false')
  await button.tap()
  await page.evaluate(() => window.said.at(-1).onend())
  await expect(button).toHaveAttribute('aria-pressed', 'false')
  await page.locator('.happened-link a').tap()
  await page.waitForURL('**/happened')
  await page.locator('.happening > summary', { hasText: 'Golpeó algo' }).tap()
  await page.locator('.aloud').tap()
  const steps = await page.evaluate(() => window.said.filter(one => one.text).map(one => one.text))
  expect(steps[0]).toBe('Desconecte las cuchillas')
  expect(steps).toHaveLength(4)
  expect(steps[3]).toContain('Con guantes')
})

test('something happened: one tap from a question, the first act in big words, and back', async ({ open }) => {
  const page = await open({ viewport: size.phone, hasTouch: true })
  await signIn(page, 'ines')
  await page.goto('/machines/almoner')
  await page.goto(await page.locator('a.bar.go').getAttribute('href'))
  const question = await page.locator('h1').textContent()
  await page.locator('.happened-link a').tap()
  await page.waitForURL('**/happened')
  const small = await page.locator('.happening > summary').evaluateAll(all => all.filter(e => e.getBoundingClientRect().height < 56).length)
  expect(small).toBe(0)
  await expect(page.locator('.happening > summary').first()).toHaveText('Fuego o humo')
  await page.locator('.happening > summary', { hasText: 'Golpeó algo' }).tap()
  const struck = page.locator('.happening[open]')
  await expect(struck.locator('.first-act')).toHaveText('Desconecte las cuchillas')
  await expect(struck.locator('.run-steps > li')).toHaveCount(3)
  await expect(struck).toContainText('nadie la enciende')
  await accessible(page)
  await noSidewaysScroll(page)
  // Another one by keyboard alone: it closes the first, so that one is read.
  await page.locator('.happening > summary', { hasText: 'Fuego o humo' }).press('Enter')
  await expect(page.locator('.happening[open]')).toHaveCount(1)
  await expect(page.locator('.happening[open] .first-act')).toHaveText('Apague el motor')
  await page.getByRole('link', { name: 'Volver a la salida' }).tap()
  await expect(page.locator('h1')).toHaveText(question)
})

test('long names and a crowded yard stay inside the page', async ({ open }) => {
  const page = await open({ viewport: size.phone })
  await signIn(page, 'maren')
  const long = 'Bartholomäus-Maximiliano Featherstonehaugh-Etxeberria de los Santos Reyes y'
  await page.goto('/people')
  await page.locator('.add summary').click()
  await page.locator('.add input[name=name]').fill(long)
  await page.locator('.add input[name=pin]').fill('9182')
  await page.locator('.add button').click()
  await expect(page.getByRole('heading', { name: long })).toBeVisible()
  await noSidewaysScroll(page)
  await page.goto('/machines-new')
  await page.locator('input[name=sheet]').first().check()
  await page.locator('input[name=name]').fill('Supercalifragilisticexpialidocious-Archdeacon-of-the-Upper-Terrace')
  await page.locator('input[name=bay]').fill('9')
  await page.locator('input[name=hours]').fill('12,5')
  await page.locator('button.bar.go').click()
  await page.waitForURL('**/yard')
  await noSidewaysScroll(page)
  await accessible(page)
  await page.goto('/sign-in')
  await noSidewaysScroll(page)
})

test('the slip prints on paper, and without the program around it', async ({ page }) => {
  await signIn(page, 'tobias')
  await page.goto('/machines/cantor')
  await page.goto(await page.locator('a.bar.go').getAttribute('href') + '/slip')
  await page.emulateMedia({ media: 'print' })
  await expect(page.locator('header.head')).toBeHidden()
  await expect(page.locator('.slip .shout')).toBeVisible()
  await expect(page.locator('.first-acts li', { hasText: 'It struck something' })).toContainText('Blades off')
  const paper = (await page.pdf({ format: 'A4', preferCSSPageSize: true })).toString('latin1')
  expect(paper.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1) // one page for the cab
})

test('without its script the program still takes answers', async ({ open }) => {
  const page = await open({ javaScriptEnabled: false })
  await signIn(page, 'tobias')
  await page.goto('/machines/verger')
  await page.locator('form[action$="/outing"] button.bar.go').click()
  await page.locator('.mine form button').click() // and keep Cantor
  await page.locator('input[name=fit][value=yes]').check()
  for (const box of await page.locator('input[name=worn]').all()) await box.check()
  await page.locator('main button.bar.go').click()
  await expect(page).toHaveURL(/walk/)
  const first = await page.locator('h1').textContent()
  await page.locator('.question button.bar.go').first().click()
  await expect(page.locator('h1')).not.toHaveText(first)
})
