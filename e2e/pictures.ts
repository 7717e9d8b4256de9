import type { Page } from '@playwright/test'

import { answer, expect, signIn, study, test } from './bench'

/** The pictures of the README, from a fresh demo world. */
const folder = '../docs/screenshots'

async function take(page: Page, name: string) {
  await page.evaluate(() => document.fonts.ready)
  await page.mouse.move(0, 0)
  await page.waitForTimeout(400)
  await page.screenshot({ path: `${folder}/${name}.png` })
}

test('every main view', async ({ page }) => {
  await page.goto('/')
  await expect(answer(page)).toHaveText('How sure are we?')
  await take(page, 'sign-in')
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  await page.goto('/')
  await expect(page.getByRole('heading', { name: /^Models/ })).toBeVisible()
  await take(page, 'first')
  await page.keyboard.press('/')
  await page.keyboard.type('PB-4417')
  await page.getByRole('option', { name: /battery/ }).click()
  await expect(answer(page)).toContainText('Drift 4, battery: whole repair 39 min')
  await take(page, 'job')
  const rooms = {
    intake: `/studies/${s.id}/intake`,
    strip: `/studies/${s.id}/strip`,
    ways: `/models/${s.model}/ways?study=${s.id}`,
    swap: `/studies/${s.id}/swap`,
    closeup: `/studies/${s.id}/closeup`,
    mat: `/studies/${s.id}/mat`,
    score: `/models/${s.model}/score?study=${s.id}`,
    handover: `/studies/${s.id}/handover`,
  }
  const between = {
    compare: `/compare?model=${s.model}&study=${s.id}`,
    fit: `/fit?kind=battery&model=${s.model}&study=${s.id}`,
    day: `/day?model=${s.model}&study=${s.id}`,
  }
  for (const [name, path] of Object.entries({ ...rooms, ...between })) {
    await page.goto(path)
    await expect(answer(page)).not.toContainText('Reading')
    await expect(page.getByRole('navigation', { name: 'Stages of this study' })).toBeVisible()
    await take(page, name)
  }
  await page.goto('/parts')
  await expect(answer(page)).toContainText('Order')
  await take(page, 'parts')
  await signIn(page, 'technician')
  const room = await (await page.request.get(`/api/models/${s.model}/ways`)).json()
  const way = room.ways.find((w: { part: string }) => w.part === 'battery')
  await page.goto(`/models/${s.model}/follow/${way.part_id}`)
  await page.getByRole('dialog').getByRole('button', { name: 'Take it in' }).click()
  await expect(page).toHaveURL(/visits/)
  await page.keyboard.press('f')
  for (let i = 0; i < 3; i++) await page.keyboard.press(' ')
  await expect(answer(page)).toContainText('Heat front edge')
  await page.keyboard.press(' ')
  await page.keyboard.press('s')
  for (let i = 0; i < 4; i++) await page.keyboard.press(' ')
  await expect(answer(page)).toContainText('Unscrew 5 tri-wing')
  await take(page, 'follow')
  await signIn(page)
  await page.goto('/dry-runs')
  await page.getByLabel('pairs').check()
  await page.getByLabel('Seed, to repeat or share a case').fill('7')
  await page.getByRole('button', { name: 'Start' }).click()
  await page.getByRole('button', { name: /Exchange the boards/ }).click()
  await page.keyboard.press('1')
  await expect(page.getByText('PINE board: 11 pieces exchanged')).toBeVisible()
  await page.getByRole('button', { name: 'Originals back' }).click()
  await page.keyboard.press('1')
  await expect(page.getByText('PINE board: every piece its own')).toBeVisible()
  await take(page, 'dry-run')
})

test('a phone with a fault and a recording', async ({ page }) => {
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  const header = { 'Idempotency-Key': crypto.randomUUID() }
  const id = crypto.randomUUID()
  await page.request.post('/api/faults', {
    headers: header,
    data: {
      id,
      visit_id: crypto.randomUUID(),
      for_model_id: s.model,
      sticker: 'STONE',
      ticket: '217',
      state: 'in',
      symptom: 'no charge',
      said: 'does not charge by cable, since Friday',
    },
  })
  await page.goto(`/faults/${id}`)
  await expect(page.locator('.act').first()).toBeVisible()
  await take(page, 'fault')
  await page.goto(`/studies/${s.id}/narration`)
  await page
    .getByLabel('What was said')
    .fill(
      [
        '[0:05] two five-lobe screws out at the bottom',
        '[0:20] heat pad at eighty degrees for two minutes, and the display is open',
        '[2:50] bracket with three cross screws, no sorry, four',
        '[3:20] four cross screws out and bracket off',
        '[3:40] battery disconnected with the spudger, and the display flex unplugged',
        '[4:02] they say the main board comes out with a pull, I would never pull on that flex',
        '[4:20] earpiece out, no wait, loudspeaker out. it weighs one point four grams',
        '[4:40] oh, I tore the antenna cable, that was me',
      ].join('\n'),
    )
  await page.getByRole('button', { name: 'Read what was said' }).click()
  await page.locator('[data-offer]').first().waitFor()
  await take(page, 'narration')
})
