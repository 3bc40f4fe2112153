// Draws the icons of the home screen from web/static/icon.svg: full to the edge, because
// each kind of device cuts its own corners.
import { chromium } from '@playwright/test'
import { executablePath } from '../e2e/browser.mjs'
import { readFileSync } from 'node:fs'

const svg = readFileSync('web/static/icon.svg', 'utf8').replace('rx="4"', '').replace('<path', '<g transform="translate(2 2) scale(.8)"><path').replace('</svg>', '</g></svg>')
const browser = await chromium.launch({ executablePath, args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] })
for (const size of [180, 192, 512]) {
  const page = await browser.newPage({ viewport: { width: size, height: size } })
  await page.setContent(`<body style="margin:0">${svg.replace('<svg', `<svg width="${size}" height="${size}" style="display:block"`)}</body>`)
  await page.screenshot({ path: `web/static/icon-${size}.png` })
}
await browser.close()
