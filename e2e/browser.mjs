// Which browser is driven: Debian's Chromium, without a window where that can be had.
import { existsSync } from 'node:fs'

export const executablePath = process.env.CHROMIUM || ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find(existsSync)
