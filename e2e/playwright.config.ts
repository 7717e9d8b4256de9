import { availableParallelism } from 'node:os'

import { defineConfig } from '@playwright/test'

import { chromium } from './setting'

/** Drives the built program with Debian's Chromium. Every test has a demo world of its own, so that they may run side by side. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './template',
  fullyParallel: true,
  workers: Math.max(1, Math.min(4, availableParallelism())),
  timeout: 90_000,
  // A machine that is busy with something else makes a test slow, not wrong; what passes only the second time is
  // reported as flaky.
  retries: process.env.CI ? 1 : 0,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: chromium,
})
