/**
 * Debian's Chromium. The service worker has a spec of its own; elsewhere it would hide answers from the tests that lose
 * them on purpose.
 */
export const chromium = {
  actionTimeout: 8_000,
  serviceWorkers: 'block' as const,
  viewport: { width: 1280, height: 800 },
  launchOptions: {
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
    ],
  },
}
