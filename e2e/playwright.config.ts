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
  // A whole job by mouse takes a minute here and three on a machine that is busy with something else; that makes a test
  // slow, not wrong. What passes only the second time is reported as flaky.
  timeout: 300_000,
  retries: process.env.CI ? 1 : 0,
  expect: { timeout: 30_000 },
  reporter: [['list']],
  use: chromium,
})
