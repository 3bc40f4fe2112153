// The close of a day: one machine left on site, two inspections given up, three people who
// go home, one of them by a lead's word, and the seal.
import { test, expect, signIn, follow, accessible, noSidewaysScroll, bigTargets } from './yard.mjs'

test.use({ fast: 60, time: '16:40' })

const phone = { viewport: { width: 390, height: 844 }, hasTouch: true }

// outingOf is the path of the outing that a machine is in.
async function outingOf(page, machine) {
  await page.goto('/machines/' + machine)
  return (await page.locator('a[href^="/outings/"]').first().getAttribute('href')).match(/\/outings\/[^/?]+/)[0]
}

test('a day is closed', async ({ open }) => {
  const tobias = await open(phone), lead = await open()
  await signIn(tobias, 'tobias')
  await signIn(lead, 'maren')
  await lead.goto('/day')
  await lead.locator('a[href="/vespers"]').click()
  for (const look of [accessible, noSidewaysScroll]) await look(lead)
  await expect(lead.locator('.missing')).toContainText('Cantor is out')
  await expect(lead.locator('form[action="/vespers/seal"]')).toHaveCount(0)

  // Nobody goes home with a machine out, and it is not left without a word of how.
  const cantor = await outingOf(tobias, 'cantor')
  await tobias.goto('/vespers')
  await expect(tobias.locator('form[action="/me/home"]')).toHaveCount(0)
  await follow(tobias, cantor, 'shutdown')
  await tobias.goto(cantor + '/do')
  await tobias.locator('.leave-ask summary').tap()
  for (const look of [accessible, noSidewaysScroll, bigTargets]) await look(tobias)
  for (const [name, words] of [['where', 'Lower terrace, by the yew'], ['secured', 'Level, deck down, key with me'], ['why', 'A service until six']]) await tobias.locator(`input[name=${name}]`).fill(words)
  await tobias.locator('select[name=fetches]').selectOption({ label: 'Inés Carvanal' })
  await Promise.all([tobias.waitForNavigation(), tobias.locator('.leave-ask button').tap()])
  await tobias.goto('/vespers')
  await expect(tobias.locator('.stands-left')).toContainText('left at Lower terrace, by the yew: Level, deck down, key with me. A service until six. By the word of Tobias')
  for (const look of [accessible, noSidewaysScroll]) await look(tobias)
  await Promise.all([tobias.waitForNavigation(), tobias.locator('form[action="/me/home"] button').tap()])
  await expect(tobias.locator('form[action="/me/home"]')).toHaveCount(0)

  // The lead ends what was begun and says of one where she is; the other says so herself.
  for (const machine of ['almoner', 'thurifer']) {
    const outing = await outingOf(lead, machine)
    await lead.goto(outing + '/verdict')
    await Promise.all([lead.waitForNavigation(), lead.locator('form[action$="/end"] button').click()])
  }
  const ines = await open(phone)
  await signIn(ines, 'ines')
  await ines.goto('/vespers')
  await expect(ines.locator('h1')).toContainText('Cierre del día')
  for (const look of [accessible, noSidewaysScroll]) await look(ines)
  await Promise.all([ines.waitForNavigation(), ines.locator('form[action="/me/home"] button').tap()])
  await lead.goto('/vespers')
  await expect(lead.locator('.missing')).toContainText('Nobody knows where Lucía Brandaluz is')
  await lead.locator('.where-ask summary', { hasText: 'Lucía' }).click()
  await lead.locator('details[open] input[name=where]').fill('At the gate, waiting for her bus')
  await Promise.all([lead.waitForNavigation(), lead.locator('details[open] button').click()])
  await expect(lead.locator('main')).toContainText('At the gate, waiting for her bus, says Maren')
  await expect(lead.locator('.missing')).toHaveCount(0)
  await Promise.all([lead.waitForNavigation(), lead.locator('form[action="/vespers/seal"] button').click()])
  await expect(lead.locator('.note[role=status]')).toContainText('Sealed by Maren')
  await expect(lead.locator('main')).toContainText('Cantor: Lower terrace, by the yew')
  await accessible(lead)
  await lead.goto('/machines/cantor')
  await expect(lead.locator('main')).toContainText('It was left on site: Lower terrace, by the yew')
  await lead.goto('/day')
  await expect(lead.locator('.day-counts')).toContainText('1 left on site')
})
