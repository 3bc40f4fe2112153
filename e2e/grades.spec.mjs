// Findings to grades, grades to release, release to return to service, as the people
// of a yard go through them.
import { test, expect, signIn, accessible, noSidewaysScroll, takeOut, proveRepair, halt, Walker } from './yard.mjs'

const tablet = { width: 1280, height: 800 }, phone = { width: 390, height: 844 }
const looks = async page => { for (const look of [accessible, noSidewaysScroll]) await look(page) }

test.describe(() => {
  test.use({ time: '07:40', fast: 20 })

  test('a plan: what is refused and who may do it instead, kept and changed', async ({ open }) => {
    const page = await open({ viewport: phone, hasTouch: true })
    await signIn(page, 'ruth')
    // Precentor has a weep at a fitting: not on fine turf, and two hours of work.
    await page.goto('/machines/precentor')
    await looks(page)
    const form = page.locator('form[action$="/outing"]')
    await form.locator('input[value=fine_turf]').check()
    await form.locator('input[name=planned]').fill('3')
    await Promise.all([page.waitForNavigation(), form.locator('button.bar.go').click()])
    await expect(page.locator('.problem').first()).toContainText('Precentor is not for this today: Fine turf')
    await expect(page.locator('.job-refused').first()).toContainText('Not on fine turf')
    await expect(page.locator('.job-refused').nth(1)).toContainText('2 h are left until a deadline')
    await looks(page)
    // What was typed stays; the substitute is one that may.
    await expect(page.locator('input[name=planned]')).toHaveValue('3')
    await expect(page.locator('input[value=fine_turf]')).toBeChecked()
    await expect(page.locator('.instead')).toContainText('Verger')
    await expect(page.locator('.instead')).not.toContainText('Beadle') // on Halt
    // A slope without how steep, hours that nobody works.
    for (const [fields, words] of [[{ slope: '' }, 'how steep'], [{ slope: '5', planned: '30' }, 'for how long'], [{ slope: '12', planned: '2' }, '12° is not under its limit of 12°'], [{ slope: '91' }, 'how steep'], [{ slope: '9' }, 'Verger, in bay 1']]) {
      await page.locator('input[value=slope]').check()
      for (const [name, value] of Object.entries(fields)) await page.locator(`input[name=${name}]`).fill(value)
      await Promise.all([page.waitForNavigation(), page.locator('form[action$="/outing"] button.bar.go').click()])
      await expect(page.locator('.text-side')).toContainText(words)
    }
    // The substitute is taken for it.
    await page.locator('.instead a', { hasText: 'Verger' }).click()
    await page.locator('input[value=fine_turf]').check()
    await page.locator('input[value=slope]').check()
    await page.locator('input[name=slope]').fill('12,5')
    await page.locator('input[name=planned]').fill('3')
    const walker = new Walker(page)
    await takeOut(page, walker)
    await expect(page.locator('main')).toContainText('Planned for today: Slopes of 12.5°, Fine turf · 3 h of work')
    // It is changed where it is seen, and what is refused is said there too.
    const outing = page.url().replace(/\/ready.*/, '')
    await page.goto(outing + '/verdict')
    await page.locator('.planned summary').click()
    await page.locator('.planned input[name=slope]').fill('15')
    await Promise.all([page.waitForNavigation(), page.locator('.planned form button.bar').click()])
    await page.goto(outing + '/verdict')
    await expect(page.locator('.planned .job-refused')).toContainText('15° is not under its limit of 15°')
    await looks(page)
    // Given up, the next time it is offered as it was said last.
    await page.locator('form[action$="/end"] button').click()
    await page.waitForLoadState()
    await page.goto('/machines/verger')
    await expect(page.locator('.plan')).toContainText('As last time')
    await expect(page.locator('input[name=slope]')).toHaveValue('15')
  })

  test('a Mend eased and tightened by a lead, and nobody else', async ({ open }) => {
    const lead = await open({ viewport: tablet })
    await signIn(lead, 'maren')
    await lead.goto('/defects')
    await looks(lead)
    await expect(lead.locator('.desk-group').first()).toContainText('Kept in')
    await expect(lead.locator('.desk-group').first()).toContainText('Beadle')
    await lead.locator('.desk a', { hasText: 'weep' }).click()
    await lead.locator('details summary').first().click()
    await looks(lead)
    const set = async fields => {
      const details = lead.locator('details:has(form[action$="/terms"])')
      if (!await details.evaluate(d => d.open)) await details.locator('summary').click()
      for (const [name, value] of Object.entries(fields)) await lead.locator(`[name=${name}]`).fill(value)
      await Promise.all([lead.waitForNavigation(), lead.locator('form[action$="/terms"] button').click()])
    }
    // Wrong: behind the meter, beyond what any Mend may stand. What was typed stays.
    await set({ hours: '12', why: 'The fitting is ordered' })
    await expect(lead.locator('.problem')).toContainText('The meter shows')
    await expect(lead.locator('[name=why]')).toHaveValue('The fitting is ordered')
    await set({ until: '2031-01-01T08:00' })
    await expect(lead.locator('.problem')).toContainText('at most 60 days')
    // Eased to twelve hours, tightened by a restriction.
    const meter = Number((await (await lead.request.get('/machines/precentor')).text()).match(/([\d.]+) h /)[1])
    const until = new Date(Date.now() + 5 * 86400e3).toISOString().slice(0, 16)
    await lead.locator('input[value=no_road]').check()
    await set({ hours: String(meter + 12), until })
    await expect(lead.locator('.story')).toContainText('The fitting is ordered')
    await expect(lead.locator('.story')).toContainText('Not any more: Not on the road')
    await expect(lead.locator('main')).toContainText(`until ${meter + 12} h on the meter`)
    // Its tag, and who may not.
    await lead.locator('a', { hasText: 'Tag with a code' }).click()
    await expect(lead.locator('.hang-tag')).toContainText('To be mended')
    await looks(lead)
    for (const who of ['ines', 'ruth']) {
      const page = await open()
      await signIn(page, who)
      await page.goto(lead.url().replace('/tag', ''))
      await expect(page.locator('form[action$="/terms"]')).toHaveCount(0)
      const answer = await page.request.post(lead.url().replace('/tag', '/terms'), { form: { until, why: 'x' }, headers: { origin: new URL(lead.url()).origin } })
      expect(answer.status()).toBe(403)
    }
  })

  test('a repair: told, proved with the same runners, signed; its finder hears of it', async ({ open }) => {
    const ruth = await open({ viewport: phone, hasTouch: true })
    await signIn(ruth, 'ruth')
    await ruth.goto('/defects')
    await looks(ruth)
    await ruth.locator('.desk a', { hasText: 'filter dirty' }).click()
    const defect = ruth.url()
    await looks(ruth)
    await expect(ruth.locator('form[action$="/repair"]')).toContainText('Air filter and cover')
    await ruth.locator('[name=cause]').fill('Leaf dust')
    await ruth.locator('[name=work]').fill('New filter, cover seated')
    await ruth.locator('[name=replaced]').check()
    await Promise.all([ruth.waitForURL('**/ready'), ruth.locator('form[action$="/repair"] button.bar.go').click()])
    const outing = ruth.url().replace(/\/ready.*/, '')
    // Nothing is signed before it was looked at.
    await ruth.goto(outing + '/verdict')
    await expect(ruth.locator('.wait-card')).toContainText('Not proved yet')
    await expect(ruth.locator('form[action$="/sign"]')).toHaveCount(0)
    await looks(ruth)
    await ruth.goto(outing)
    await proveRepair(ruth)
    await looks(ruth)
    await ruth.goto(defect)
    await expect(ruth.locator('.story')).toContainText('Proved and signed by Ruth Akindale')
    await expect(ruth.locator('main')).toContainText('New filter, cover seated')
    // Inés found it: she hears at her next sign-in, and once.
    const ines = await open({ viewport: phone })
    await signIn(ines, 'ines')
    await expect(ines.locator('.news')).toContainText('Ruth Akindale')
    await looks(ines)
    await Promise.all([ines.waitForNavigation(), ines.locator('.news button').click()])
    await expect(ines.locator('.news')).toHaveCount(0)
  })

  test('a bypassed switch: mended, its tests repeated; failed again it stays', async ({ open }) => {
    const ruth = await open({ viewport: tablet, hasTouch: true })
    await signIn(ruth, 'ruth')
    await ruth.goto('/machines/beadle')
    await ruth.locator('.defects a', { hasText: 'failed' }).click()
    const defect = ruth.url()
    await ruth.locator('[name=cause]').fill('Seat switch bridged')
    await ruth.locator('[name=work]').fill('New seat switch')
    await Promise.all([ruth.waitForURL('**/ready'), ruth.locator('form[action$="/repair"] button.bar.go').click()])
    const outing = ruth.url().replace(/\/ready.*/, '')
    const walker = new Walker(ruth, l => l.click())
    await walker.until(url => url.includes('/round'))
    // The first test of the engine with it running fails.
    for (let n = 0; n < 60 && !await ruth.locator('details.sure button[value=bad]').count(); n++) await walker.step()
    await halt(ruth, walker)
    await ruth.goto(outing + '/verdict')
    await expect(ruth.locator('form[action$="/sign"]')).toHaveCount(0)
    await expect(ruth.locator('.wait-card')).toContainText('A test of the round failed')
    await ruth.locator('form[action$="/end"] button').click()
    await ruth.waitForLoadState()
    await ruth.goto(defect)
    await expect(ruth.locator('.story')).toContainText('Not signed by Ruth Akindale: it was not proved')
    // Both are mended at once then, and proved.
    await ruth.locator('[name=cause]').fill('The plug was loose')
    await ruth.locator('[name=work]').fill('Plug locked')
    await ruth.locator('input[name=with]').first().check()
    await Promise.all([ruth.waitForURL('**/ready'), ruth.locator('form[action$="/repair"] button.bar.go').click()])
    await proveRepair(ruth)
    await ruth.goto('/machines/beadle')
    await expect(ruth.locator('main')).toContainText('No open defects')
    await expect(ruth.locator('form[action$="/outing"]')).toHaveCount(1)
  })

  test('found again by machine, day and grade; taken away; a machine that leaves and comes back', async ({ open }) => {
    const lead = await open({ viewport: tablet })
    await signIn(lead, 'maren')
    await lead.goto('/defects')
    await lead.locator('a[href="/find"]').click()
    await lead.locator('select[name=grade]').selectOption('halt')
    await lead.locator('select[name=machine]').selectOption({ label: 'Ostiary' })
    await Promise.all([lead.waitForNavigation(), lead.locator('.find-form button').click()])
    await expect(lead.locator('.defects li')).toHaveCount(1)
    await expect(lead.locator('.defects')).toContainText('Ruth Akindale')
    await looks(lead)
    // The filter is the address, for the table too.
    const table = await (await lead.request.get(await lead.locator('a[href^="/find/defects.csv"]').getAttribute('href'))).text()
    expect(table.trim().split('\n')).toHaveLength(2)
    expect(table).toContain('Spring broken at the eye')
    const lines = await (await lead.request.get('/export/yard.jsonl')).text()
    expect(JSON.parse(lines.split('\n')[0])).toMatchObject({ type: 'head', format: 'vespers/export/1' })
    expect(lines).not.toContain('argon2')
    // The defect that was closed tells its story, with the work that was proved.
    await lead.locator('.defects a').first().click()
    await expect(lead.locator('.story')).toContainText('Proved and signed by Ruth Akindale')
    // As documents: the defect, its outing, the day.
    const papers = [lead.url() + '/defect.pdf', new URL(await lead.locator('.story a').first().getAttribute('href'), lead.url()).href.replace('verdict', 'outing.pdf'), '/day.pdf']
    for (const paper of papers) {
      const answer = await lead.request.get(paper)
      expect([answer.status(), answer.headers()['content-type'], (await answer.body()).subarray(0, 5).toString()], paper).toEqual([200, 'application/pdf', '%PDF-'])
    }
    // The hired trencher goes back to its hirer, and is brought back.
    await lead.goto('/machines/gravedigger')
    await lead.locator('details.meter summary').first().click()
    await lead.locator('form[action$="/away"] input[name=why]').fill('The week is over')
    await Promise.all([lead.waitForNavigation(), lead.locator('form[action$="/away"] button').click()])
    await expect(lead.locator('.problem')).toContainText('Left the yard')
    await looks(lead)
    await lead.goto('/yard')
    await expect(lead.locator('.bays')).not.toContainText('Gravedigger')
    await lead.goto('/yard/list')
    await lead.locator('a', { hasText: 'Gravedigger: Left the yard' }).click()
    await lead.locator('form[action$="/back"] input[name=bay]').fill('21')
    await Promise.all([lead.waitForNavigation(), lead.locator('form[action$="/back"] button').click()])
    await lead.goto('/yard')
    await expect(lead.locator('.bays')).toContainText('Gravedigger')
    // On Halt, the page says what stands there instead.
    await lead.goto('/machines/beadle')
    await expect(lead.locator('.instead')).toContainText('Verger, in bay 1')
  })

  test('the grade and what decides before one goes on; made worse by who found it', async ({ open }) => {
    const page = await open({ viewport: phone, hasTouch: true })
    await signIn(page, 'ines')
    await page.goto('/machines/almoner')
    const outing = (await page.locator('a.bar.go').getAttribute('href')).match(/\/outings\/[^/]+/)[0]
    await page.goto(outing)
    const walker = new Walker(page)
    for (let n = 0; n < 20 && !await page.locator('.entry').count(); n++) await walker.step()
    for (const digit of '70') await walker.key(digit)
    await walker.moved(() => walker.press(page.locator('.entry button.bar.go')))
    await expect(page.locator('.given')).toContainText('Reparar')
    await expect(page.locator('.given .limit')).toContainText('Solo terreno plano')
    await looks(page)
    await page.locator('summary', { hasText: 'Es peor que eso' }).tap()
    await page.locator('form[action$="/worse"] input[name=why]').fill('Se oye que pierde aire')
    await looks(page)
    await walker.moved(() => walker.press(page.locator('form[action$="/worse"] button[value=halt]')))
    await page.goto(outing + '/verdict')
    await expect(page.locator('.halt-card')).toContainText('Se oye que pierde aire')
    await expect(page.locator('form[action$="/release"]')).toHaveCount(0)
  })
})
