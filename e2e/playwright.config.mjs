// How the browser tests run: Debian's Chromium, two at a time.
import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: '.',
  timeout: 300_000,
  expect: { timeout: 15_000 },
  workers: 2,
  fullyParallel: true,
  reporter: [['list']],
  outputDir: 'test-results',
  use: {
    launchOptions: {
      executablePath: process.env.CHROMIUM || '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
  },
})
