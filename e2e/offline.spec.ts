import type { Page } from '@playwright/test'

import { answer, expect, signIn, study, test } from './bench'

test.use({
  refusals: [/ERR_INTERNET_DISCONNECTED|ERR_FAILED|ERR_CONNECTION|503|409|404|Failed to fetch/],
  serviceWorkers: 'allow',
})

const demo = 'Drift 4, first pair'
const rows = (page: Page) => page.getByRole('region', { name: 'Log' }).getByRole('row')

async function ready(page: Page, path: string) {
  await page.goto(path)
  await page.evaluate(() => navigator.serviceWorker.ready)
  await page.waitForFunction(() => navigator.serviceWorker.controller)
  await page.reload() // this time through the worker, which keeps what it reads
  await expect(answer(page)).toContainText('PINE')
  await page.getByRole('textbox', { name: 'Bench line of PINE' }).fill('? ready')
  await expect(page.locator('.echo')).toContainText('Note “ready”') // the reader is loaded
  await page.getByRole('textbox', { name: 'Bench line of PINE' }).fill('')
}
async function line(page: Page, text: string) {
  const field = page.getByRole('textbox', { name: /^Bench line/ })
  await field.fill(text)
  await field.press('Enter')
  await field.press('Escape')
}

test('network gone: entries wait over a reload, the line reads and warns, two tabs send each entry once', async ({
  page,
  context,
}) => {
  await signIn(page)
  const s = await study(page, demo)
  await ready(page, `/studies/${s.id}/strip`)
  const before = await rows(page).count()
  await context.setOffline(true)
  await line(page, '? first without a network')
  await page.keyboard.press('1')
  await line(page, '! flex-torn sensor strip')
  await expect(page.getByText('offline, 3 unsent')).toBeVisible()
  await page.reload()
  await expect(answer(page)).toContainText('PINE')
  await expect(page.getByText('offline, 3 unsent')).toBeVisible()
  await expect(page.locator('.waiting').getByRole('listitem')).toHaveCount(3)
  await page.getByRole('textbox', { name: 'Bench line of PINE' }).fill('h plate 90C 60s back')
  await expect(page.locator('.echo')).toContainText('Heat the back, by plate, 90 °C, 60 s')
  const second = await context.newPage()
  await second.goto(`/studies/${s.id}/strip`)
  await expect(second.getByText('offline, 3 unsent')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('all saved')).toBeVisible({ timeout: 60_000 })
  await expect(second.getByText('all saved')).toBeVisible()
  await expect(rows(page)).toHaveCount(before + 3)
  const log = (await (await page.request.get(`/api/studies/${s.id}/strip`)).json()).log as {
    note: string
    kind: string
  }[]
  expect(log.filter((e) => e.note === 'first without a network')).toHaveLength(1)
  for (let i = 0; i < 3; i++)
    await page.request.delete(`/api/log/${(log.at(-1 - i) as unknown as { id: string }).id}?version=1`, {
      headers: { 'Idempotency-Key': crypto.randomUUID() },
    })
})

test('two analysts: what one overtook waits in the other one’s tray with both sides', async ({
  page,
  context,
  browser,
}) => {
  await signIn(page)
  const s = await study(page, demo)
  await ready(page, `/studies/${s.id}/strip`)
  await line(page, '? mine')
  await expect(page.getByText('all saved')).toBeVisible()
  await expect(rows(page).filter({ hasText: 'mine' })).toHaveCount(1)
  const room = await (await page.request.get(`/api/studies/${s.id}/strip`)).json()
  const entry = room.log.find((e: { note: string }) => e.note === 'mine')
  await context.setOffline(true)
  await page.keyboard.press('u')
  await expect(page.getByText('offline, 1 unsent')).toBeVisible()
  const other = await (await browser.newContext()).newPage()
  await signIn(other)
  const sent = await other.request.put(`/api/log/${entry.id}`, {
    headers: { 'Idempotency-Key': crypto.randomUUID() },
    data: { version: 1, seconds: 0, note: 'mine, and a word of theirs' },
  })
  expect(sent.status()).toBe(200)
  await context.setOffline(false)
  const tray = page.locator('#tray')
  await expect(tray).toContainText('PINE: taken back', { timeout: 60_000 })
  await expect(page.getByRole('button', { name: '1 entry was refused: mend' })).toBeVisible()
  await line(page, '? later entries go on')
  await expect(rows(page).filter({ hasText: 'later entries go on' })).toHaveCount(1)
  await tray.getByRole('button', { name: 'Send again' }).click()
  await expect(tray).toHaveCount(0)
  await expect(rows(page).filter({ hasText: 'a word of theirs' })).toHaveCount(0)
  await page.keyboard.press('u')
  await expect(rows(page).filter({ hasText: 'later entries go on' })).toHaveCount(0)
})

test('the server is killed in mid-batch: rows equal entries', async ({ browser, world }) => {
  const context = await browser.newContext({
    baseURL: world.base,
    serviceWorkers: 'allow',
  })
  const page = await context.newPage()
  await signIn(page)
  const s = await study(page, demo)
  await ready(page, `/studies/${s.id}/strip`)
  await context.setOffline(true)
  const lines = Array.from({ length: 40 }, (_, i) => `? entry number ${i}.`)
  for (const l of lines) await line(page, l)
  await expect(page.getByText('offline, 40 unsent')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText(/^(offline, (3\d|2\d|1\d) unsent|saving (3\d|2\d|1\d) entries)$/)).toBeVisible({
    timeout: 60_000,
  })
  await world.down('SIGKILL')
  await page.waitForTimeout(500)
  await world.up()
  await page.reload()
  await expect(page.getByText('all saved')).toBeVisible({ timeout: 60_000 })
  const log = (await (await page.request.get(`/api/studies/${s.id}/strip`)).json()).log as { note: string }[]
  const notes = log.map((e) => e.note).filter((n) => n.startsWith('entry number'))
  expect(notes).toEqual(lines.map((l) => l.slice(2)))
  await context.close()
})
