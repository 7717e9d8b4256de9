import { defineConfig } from '@playwright/test'

import { calibration, chromium, server } from './setting'

/** Drives the built program with Debian's Chromium on a demo world of its own, which is thrown away. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: 1,
  timeout: 90_000,
  // A machine that is busy with something else makes a test slow, not wrong; what passes only the second time is reported as flaky.
  retries: process.env.CI ? 1 : 0,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: chromium,
  webServer: [server, calibration],
})
