// The ground: a bank measured in each of the ways, a zone drawn, the site there and back as
// a file, and the morning's plan moved by hand.
import { readFileSync } from 'node:fs'
import { test, expect, signIn, accessible, noSidewaysScroll } from './yard.mjs'

test.use({ time: '08:40' })

const tablet = { viewport: { width: 820, height: 1180 }, hasTouch: true }
const phone = { viewport: { width: 390, height: 844 }, hasTouch: true }

// lean tells the browser's sensor how the device leans, in degrees: up its length, and to
// its side; and which way round it lies.
async function lean(page, up, side, round) {
  const half = degrees => degrees * Math.PI / 360
  const [sx, cx, sy, cy, sz, cz] = [up, side, round].flatMap(degrees => [Math.sin(half(degrees)), Math.cos(half(degrees))])
  if (!page.cdp) {
    page.cdp = await page.context().newCDPSession(page)
    await page.cdp.send('Emulation.setSensorOverrideEnabled', { type: 'relative-orientation', enabled: true, metadata: { available: true } })
  }
  await page.cdp.send('Emulation.setSensorOverrideReadings', { type: 'relative-orientation', reading: { quaternion: { x: cz * sx * cy - sz * cx * sy, y: cz * cx * sy + sz * sx * cy, z: cz * sx * sy + sz * cx * cy, w: cz * cx * cy - sz * sx * sy } } })
}

test('a bank is measured in each of the ways, and is refused', async ({ open }) => {
  const page = await open({ ...phone, permissions: ['accelerometer', 'gyroscope', 'magnetometer'] })
  await signIn(page, 'tobias')
  await page.goto('/ground?machine=cantor')
  await accessible(page)
  await noSidewaysScroll(page)
  const line = page.locator('.zone-line', { hasText: 'Verge at the lower gate' })
  await expect(line).toContainText('May go')
  await expect(page.locator('.zone-line', { hasText: 'Chapel lawn' })).toContainText('no engines 10:30–11:30')
  await line.getByRole('link').click()
  await page.waitForURL('**/zones/gate_verge*')
  await accessible(page)
  await noSidewaysScroll(page)
  const readings = page.locator('#measured + ul li')
  const had = await readings.count()
  const way = async (name, numbers) => {
    const form = page.locator('details.way', { hasText: name })
    if (!await form.evaluate(d => d.open)) await form.locator('summary').click()
    for (const [number, typed] of Object.entries(numbers)) await form.locator(`input[name=${number}]`).fill(typed)
    await form.getByRole('button', { name: 'Keep this reading' }).click()
  }
  // 17 may be either: it asks, keeps what was typed, and takes what is said.
  await way('A gauge or this tablet', { angle: '17', u_angle: '1' })
  await expect(page.locator('details.way[open] .saving')).toContainText('Is 17 an angle or a percent?')
  await accessible(page)
  await page.getByRole('button', { name: '17 %, that is 9.6°' }).click()
  await expect(readings.nth(had)).toContainText('17 % ± 2')
  await expect(page.locator('.site-pair.may').first()).toContainText('Cantor')
  // In a dead spot it is asked once the link is back, wherever one is by then.
  await page.route('**/measure', route => route.abort())
  await way('A gauge or this tablet', { angle: '16', u_angle: '1' })
  await expect(page.locator('details.way[open] .saving')).toContainText('No link')
  await page.goto('/ground?machine=cantor')
  await page.unroute('**/measure')
  await expect(page.locator('.unsent')).toContainText('Is 16 an angle or a percent?', { timeout: 15_000 })
  await accessible(page)
  await page.locator('.unsent').getByRole('button', { name: '16 %, that is' }).click()
  await expect(page.locator('.unsent')).toBeHidden()
  await page.goto('/ground/zones/gate_verge')
  await expect(readings.nth(had + 1)).toContainText('16 % ± 2')
  await way('A board held level', { drop: '11 cm', length: '1,2 m' })
  await expect(readings.nth(had + 2)).toContainText('drop 0.36 ft over a board of 3.94 ft')
  await expect(readings.nth(had + 2)).toContainText('Tobias Fennimar')
  await way('Rise over run', { rise: '3', run: '18' })
  await expect(readings.nth(had + 3)).toContainText('rise 3 ft over 18 ft')
  // What says nothing is refused where it was typed, and stays there.
  await way('A board held level', { drop: '0.2', length: '0' })
  await expect(page.locator('.saving.bad')).toBeVisible()
  await expect(page.locator('details.way[open] input[name=drop]')).toHaveValue('0.2')
  await expect(readings).toHaveCount(had + 4)

  // By the device: it lies on the board, leans by itself too, and is turned half round.
  const tilt = page.locator('details.way', { hasText: 'A gauge or this tablet' })
  await tilt.locator('summary').click()
  await lean(page, 24, 2, 10)
  await tilt.locator('.tilt button').click()
  await expect(tilt.locator('.tilt button')).toContainText('turn it half round', { timeout: 15_000 })
  // Not turned: a steep bank would come out level. It is not taken.
  await tilt.locator('.tilt button').click()
  await expect(tilt.locator('.tilt-now')).toContainText('not turned', { timeout: 15_000 })
  await expect(tilt.locator('input[name=angle]')).toHaveValue('')
  await lean(page, -20, 2, 190)
  await tilt.locator('.tilt button').click()
  await expect(tilt.locator('input[name=angle]')).toHaveValue('22.0', { timeout: 15_000 })
  await expect(tilt.locator('input[name=with]')).toHaveValue(/tablet/)
  await accessible(page)
  await tilt.getByRole('button', { name: 'Keep this reading' }).click()
  await expect(readings.nth(had + 4)).toContainText('22° ± 0.5')
  // Now it is too steep for Cantor; the reasons say how steep, and what may instead.
  await page.goto('/ground?machine=cantor')
  await expect(line).toContainText('Not here')
  await expect(line).toContainText('It may be 22.5°')
  await expect(line.locator('.instead')).toBeVisible()
})

test('a device that may not read how it lies says so, and the angle is typed', async ({ open }) => {
  const page = await open(phone) // without a permission, and without a sensor
  await signIn(page, 'ines')
  await page.goto('/ground/zones/gate_verge')
  const form = page.locator('details.way').first()
  await form.locator('summary').click()
  await form.locator('.tilt button').click()
  await expect(form.locator('.tilt-now')).toContainText('Escriba lo que dice', { timeout: 10_000 })
  await expect(form.locator('input[name=angle]')).toHaveValue('')
  await form.locator('input[name=angle]').fill('2')
  await form.getByRole('button', { name: 'Guardar esta medición' }).click()
  await expect(page.locator('#measured + ul li', { hasText: '2° ± 1' })).toContainText('Inés Carvanal')
})

test('wheels that slip close a bank for the day, whatever was measured', async ({ open }) => {
  const page = await open(tablet)
  await signIn(page, 'lucia')
  await page.goto('/ground/zones/upper_terrace')
  await expect(page.locator('.site-pair.may').first()).toBeVisible()
  // In a dead spot: it is kept on the device, and goes by itself when the link is back.
  await page.context().setOffline(true)
  await page.getByRole('button', { name: 'Las ruedas resbalaron' }).click()
  await expect(page.locator('form[action$="/try"] .saving')).toContainText('Sin conexión')
  await page.context().setOffline(false)
  await expect(page.locator('#tried ~ .note')).toContainText('Lucía')
  await expect(page.locator('.site-pair.may')).toHaveCount(0)
  // The walk waits too, with its picture.
  await page.context().setOffline(true)
  await page.locator('input[name=item][value=loose]').check()
  await page.locator('input[name=grass][value=wet]').check()
  await page.locator('input[name=ground][value=firm]').check()
  await page.locator('textarea[name=told]').fill('Alambre junto al muro')
  await page.locator('input[name=photo]').setInputFiles('docs/screenshots/ground.png')
  await page.getByRole('button', { name: 'La he recorrido' }).click()
  await expect(page.locator('form[action$="/walk"] .saving')).toContainText('Sin conexión')
  await page.context().setOffline(false)
  await expect(page.locator('.walk-photo')).toBeVisible({ timeout: 15_000 })
  await expect(page.locator('textarea[name=told]')).toHaveValue('Alambre junto al muro')
  await expect(page.locator('#walked + p')).toContainText('sin atender: 3')
  for (const path of ['', '/ground', '/ground/morning']) {
    if (path) await page.goto(path)
    await accessible(page)
    await noSidewaysScroll(page)
  }
})

test('a zone is drawn by tap and by keyboard, and the site goes there and back', async ({ open }) => {
  const page = await open()
  await signIn(page, 'maren')
  await page.goto('/ground/draw')
  await accessible(page)
  // By tapping: three places on the plan.
  const plan = page.locator('svg.site'), box = await plan.boundingBox()
  for (const [x, y] of [[.72, .75], [.86, .75], [.86, .9]]) await plan.click({ position: { x: box.width * x, y: box.height * y } })
  const along = page.locator('#along')
  expect((await along.inputValue()).split('\n')).toHaveLength(3)
  await page.getByRole('button', { name: 'Take the last place away' }).click()
  expect((await along.inputValue()).split('\n')).toHaveLength(2)
  // By keyboard: one more, so that it crosses itself; it is refused, and stands there still.
  await along.fill('100 -60\n130 -60\n100 -40\n130 -40')
  await page.getByLabel('Name').fill('Yew hedge bank')
  await page.getByLabel('Work').selectOption('mow')
  await page.getByLabel('Surface').selectOption('rough')
  await page.getByRole('button', { name: 'Keep it' }).press('Enter')
  await expect(page.locator('.problem')).toContainText('crosses')
  await expect(along).toHaveValue(/130 -40$/)
  await along.fill('100 -60\n130 -60\n130,5 -40\n100 -40')
  await page.getByRole('button', { name: 'Keep it' }).press('Enter')
  await expect(page.locator('.features')).toContainText('Yew hedge bank')
  await page.goto('/ground/zones/yew_hedge_bank')
  await expect(page.locator('.ground-plan')).toContainText('605 m²')
  await expect(page.locator('.may-not')).toContainText('Nobody has measured')

  // There and back: the file is the same after a round.
  const take = async () => (await page.request.get('/ground/site.geojson')).body()
  const before = await take()
  await page.goto('/ground/draw')
  const send = async (bytes, over) => {
    await page.locator('input[name=file]').setInputFiles({ name: 'site.geojson', mimeType: 'application/geo+json', buffer: bytes })
    if (over) await page.locator('input[name=over]').check()
    await page.getByRole('button', { name: 'Take it in' }).click()
  }
  await send(before, false)
  await expect(page.locator('.problem')).toContainText('are drawn already')
  await send(Buffer.from(before.toString().replace('"features"', '"crs":{"type":"name"},"features"')), true)
  await expect(page.locator('.problem')).toContainText('another reference system')
  await send(before, true)
  await page.waitForURL('**/ground')
  expect(Buffer.compare(before, await take())).toBe(0)
  expect(JSON.parse(readFileSync('demo/wrenfield.geojson'))).toMatchObject({ type: 'FeatureCollection' })
})

test('the morning is proposed, moved by hand, and published', async ({ open }) => {
  const lead = await open()
  await signIn(lead, 'maren')
  await lead.goto('/muster')
  for (const name of ['Lucía Brandaluz is here', 'I am here']) {
    const here = lead.getByRole('button', { name })
    if (await here.isVisible()) await here.click()
  }
  await lead.goto('/ground/morning')
  await accessible(lead)
  for (const zone of await lead.locator('input[name=zone]').all()) await zone.setChecked(['upper_terrace', 'chapel_lawn', 'pond_bank'].includes(await zone.getAttribute('value')))
  await lead.locator('input[name=until]').fill('16:00')
  await lead.getByRole('button', { name: 'Propose who takes what' }).click()
  await expect(lead.locator('.planned')).toContainText('2 of 3 zones')
  await accessible(lead)
  await noSidewaysScroll(lead)
  const row = name => lead.locator('.plan-turn', { hasText: name })
  // Each machine that does its work says why it does not here.
  await row('lily pond').locator('summary').click()
  await expect(row('lily pond')).toContainText('It may be 18.7°')
  // One by hand, so that something breaks: both lawns to one person, each with another machine.
  const pairs = await row('Chapel lawn').locator('option').evaluateAll(all => all.map(o => o.value).filter(v => v.startsWith('maren/')))
  expect(pairs.length).toBeGreaterThan(1)
  await row('Chapel lawn').locator('select').selectOption(pairs[0])
  await row('Upper terrace').locator('select').selectOption(pairs[1])
  await lead.getByRole('button', { name: 'See what this comes to' }).click()
  await expect(lead.locator('.plan-turn.broken')).toContainText('another machine already')
  await accessible(lead)
  await lead.getByRole('button', { name: 'Publish' }).click()
  await expect(lead.locator('.problem').first()).toContainText('Nothing was published')
  const hers = await row('Chapel lawn').locator('option').evaluateAll(all => all.map(o => o.value).find(v => v.startsWith('lucia/')))
  for (const zone of ['Chapel lawn', 'Upper terrace']) await row(zone).locator('select').selectOption(hers)
  await lead.getByRole('button', { name: 'Publish' }).click()
  await expect(lead.locator('#published')).toContainText('Lucía Brandaluz')

  const page = await open(phone)
  await signIn(page, 'lucia')
  await page.goto('/ground/morning')
  await expect(page.locator('.mine li')).toHaveCount(2)
  await expect(page.locator('.mine')).toContainText('Chapel lawn')
  await accessible(page)
  await noSidewaysScroll(page)
  await page.goto('/yard')
  await expect(page.locator('.note', { hasText: 'Upper terrace' })).toBeVisible()

  // Lightning: nobody is sent out.
  await lead.goto('/muster')
  await lead.locator('details:has(form[action="/muster/weather"]) summary').click()
  await lead.locator('select[name=grass]').selectOption('dry')
  await lead.locator('select[name=light]').selectOption('good')
  await lead.locator('select[name=storm]').selectOption('about')
  await lead.locator('form[action="/muster/weather"] button').click()
  await lead.goto('/ground/morning?propose=yes&until=16:00&zone=chapel_lawn')
  await expect(lead.locator('.problem').first()).toContainText('Lightning')
  await lead.getByRole('button', { name: 'Publish' }).click()
  await expect(lead.locator('.problem', { hasText: 'Nothing was published' })).toBeVisible()
})

test('a load sheet fails the bridge, says what mends it, and is kept with the outing', async ({ open }) => {
  const page = await open(phone)
  await signIn(page, 'ines')
  const outing = (await page.locator('.threads a', { hasText: 'Almoner' }).first().getAttribute('href')).match(/\/outings\/[^/]+/)[0]
  await page.goto(outing + '/load')
  await accessible(page)
  await noSidewaysScroll(page)
  const fill = async numbers => { for (const [name, typed] of Object.entries(numbers)) await page.locator(`input[name=${name}]`).fill(typed) }
  const keep = () => page.getByRole('button', { name: 'Guardar la hoja de carga' }).click()
  const paper = async () => (await (await page.request.get(outing + '/outing.pdf')).body()).length
  const without = await paper()
  await fill({ load_height: '3,95', legal: '4' })
  await keep()
  await expect(page.locator('.problem')).toContainText('no hay ninguno')
  await expect(page.locator('input[name=load_height]')).toHaveValue('3,95')
  await fill({ bridges: '4,05; 4,6', ramp_height: '0,6', ramp_length: '2', ramp_width: '2,4' })
  await keep()
  const part = name => page.locator('.load-part', { hasText: name })
  await expect(part('Altura en el camino')).toContainText('No sirve')
  await expect(part('Altura en el camino')).toContainText('0.1 m más baja')
  await expect(part('La rampa')).toContainText('más larga')
  await accessible(page)
  // The same numbers stand there again; a lower load and a longer ramp will do.
  await page.locator('summary', { hasText: 'Llenarla' }).click()
  await expect(page.locator('input[name=bridges]')).toHaveValue('4.05; 4.6')
  await fill({ load_height: '3,8', ramp_length: '4' })
  await keep()
  await expect(part('Altura en el camino')).toContainText('Sirve')
  await expect(page.locator('.load-part.not')).toHaveCount(0)
  await expect(page.locator('.keep-to')).toContainText(['En el remolque'])
  expect(await paper()).toBeGreaterThan(without + 200) // it is kept with the outing's papers
  await page.emulateMedia({ media: 'print' })
  await expect(page.locator('main form')).toBeHidden()
  await expect(part('La rampa')).toBeVisible()

  // A lead sees it, and does not fill it in for her.
  const lead = await open()
  await signIn(lead, 'maren')
  await lead.goto(outing + '/load')
  await expect(lead.locator('.load-sheet')).toContainText('Inés Carvanal')
  await expect(lead.locator('.load-sheet form')).toHaveCount(0)
})
