import { defineConfig } from '@playwright/test'

import { chromium, server } from './setting'

/** Drives the built program with Debian's Chromium on a demo world of its own, which is thrown away. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: 1,
  timeout: 60_000,
  expect: { timeout: 10_000 },
  reporter: [['list']],
  use: chromium,
  webServer: server,
})
