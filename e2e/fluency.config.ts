import { defineConfig } from '@playwright/test'

import { chromium } from './setting'

/** Part of make bench: measures the page, asserts nothing about time. */
export default defineConfig({
  testDir: '.',
  testMatch: 'fluency.ts',
  workers: 1,
  timeout: 120_000,
  reporter: [['list']],
  globalSetup: './template',
  use: chromium,
})
