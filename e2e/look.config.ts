import { defineConfig } from '@playwright/test'

import { chromium } from './setting'

/** make screenshots: one picture of every main view, from a fresh demo world. */
export default defineConfig({
  testDir: '.',
  testMatch: 'look.ts',
  workers: 1,
  timeout: 120_000,
  reporter: [['list']],
  globalSetup: './template',
  use: chromium,
})
