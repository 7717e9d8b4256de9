import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

export const port = Number(process.env.E2E_PORT ?? 8431)
export const base = `http://127.0.0.1:${port}`
// Playwright reads this file in several processes; the folder must be the same in all of them.
process.env.WARYOWL_E2E_VAR ??= mkdtempSync(join(tmpdir(), 'waryowl-e2e-'))

export const chromium = {
  baseURL: base,
  actionTimeout: 8_000,
  // The service worker has a spec of its own; elsewhere it would hide answers from the tests that lose them on purpose.
  serviceWorkers: 'block' as const,
  viewport: { width: 1280, height: 800 },
  launchOptions: {
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'],
  },
}

/** A calibration service of the tests' own, which can be told to be slow, down or to refuse. */
export const calibration = {
  command: `../bin/waryowl calibration --listen 127.0.0.1:${port + 1}`,
  port: port + 1,
  reuseExistingServer: false,
}
export const calibrationBase = `http://127.0.0.1:${port + 1}`

export const server = {
  command: '../bin/waryowl demo',
  url: `${base}/healthz`,
  env: { PORT: String(port), WARYOWL_VAR: process.env.WARYOWL_E2E_VAR, WARYOWL_CALIBRATION: calibrationBase },
  timeout: 120_000,
  gracefulShutdown: { signal: 'SIGTERM' as const, timeout: 20_000 },
  reuseExistingServer: false,
}
