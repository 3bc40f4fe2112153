// How the browser tests run: Debian's Chromium, four at a time: two work while the others wait
// for an engine to cool.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defineConfig } from '@playwright/test'
import { executablePath } from './browser.mjs'

// Where the workers keep the demo yards that they have filled, for one another.
if (!process.env.VESPERS_FILLED) {
  const filled = process.env.VESPERS_FILLED = mkdtempSync(join(tmpdir(), 'vespers-filled-'))
  process.on('exit', () => rmSync(filled, { recursive: true, force: true }))
}

export default defineConfig({
  testDir: '.',
  timeout: 480_000,
  expect: { timeout: 15_000 },
  workers: 4,
  fullyParallel: true,
  reporter: [['list']],
  outputDir: 'test-results',
  use: {
    launchOptions: {
      executablePath,
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
  },
})
