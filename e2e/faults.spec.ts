import type { Page } from '@playwright/test'

import { answer, choose, clean, expect, fits, home, signIn, tabTo, test } from './bench'
import { headers } from './lab'

// The network goes once, on purpose.
test.use({ refusals: [/ERR_INTERNET_DISCONNECTED/] })

/** A phone that came in with words for its fault, over the interface; its room is opened. */
async function sick(page: Page, symptom: string, said = '') {
  const models = (await (await page.request.get('/api/models')).json()) as {
    id: string
    name: string
  }[]
  const id = crypto.randomUUID()
  const sent = await page.request.post('/api/faults', {
    headers: headers(),
    data: {
      id,
      visit_id: crypto.randomUUID(),
      for_model_id: models.find((m) => m.name === 'Drift 4')!.id,
      sticker: 'STONE',
      state: 'in',
      said,
      symptom,
    },
  })
  expect(sent.status(), await sent.text()).toBe(201)
  await page.goto(`/faults/${id}`)
  return id
}
const state = async (page: Page, id: string) =>
  (await (await page.request.get(`/api/faults/${id}`)).json()) as {
    state: string
    status: string
    next: { act: string; kind: string }[]
    acts: { act: string }[]
    learned: number
  }

test('no charge: reseat, gone, closing control, closed, by a technician with the keyboard alone', async ({ page }) => {
  await signIn(page, 'technician')
  await home(page)
  await tabTo(page, page.getByRole('button', { name: 'Find a fault' }))
  await page.keyboard.press('Enter')
  const form = page.getByRole('dialog')
  await expect(form.locator(':focus')).toHaveCount(1)
  await choose(page, form, 'Model', 'Pellow Drift 4')
  await form.getByLabel('Sticker on the phone').fill('STONE')
  await form.getByLabel(/What is wrong/).fill("won't charge anymore")
  await page.keyboard.press('Enter')
  // What the owner says is searched at once: Enter takes the first symptom of the list.
  const field = page.getByRole('textbox', {
    name: 'The symptom, as people say it',
  })
  await expect(field).toBeFocused()
  await expect(page.getByRole('button', { name: /^no charge/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText('Most likely the')
  // What works clears causes.
  await tabTo(page, page.locator('[data-quick="0"] button'))
  await page.keyboard.press('p')
  await expect(page.getByText(/so hardly/).first()).toBeVisible()
  const id = page.url().split('/').at(-1)!
  await page.locator('h1').click()
  for (let i = 0; i < 8; i++) {
    const s = await state(page, id)
    const act = s.next[0]!.act
    const seat = act.startsWith('reseat port')
    await page.keyboard.press(s.next[0]!.kind === 'control' || seat ? 'y' : 'n')
    await expect(async () => expect((await state(page, id)).acts.length).toBe(i + 1)).toPass()
    await expect(page.locator('#done')).toContainText(act)
    if (s.next[0]!.kind === 'control') break
    if (seat) await expect(answer(page)).toContainText('the closing control before it is handed back')
  }
  const done = (await state(page, id)).acts.map((a) => a.act)
  expect(done).toContain('reseat port lead')
  expect(done).not.toContain('replace charge port')
  await expect(answer(page)).toContainText('it was the port lead')
  await expect(page.getByText('What helped: reseat port lead')).toBeVisible()
  // It was counted; taking the last act back opens it again.
  await page.keyboard.press('u')
  await expect(answer(page)).toContainText('the closing control before it is handed back')
  await clean(page)
})

test('by touch at 390: a dark phone that does not start goes through its gate with clocks, and is never dead before', async ({
  page,
}) => {
  await signIn(page, 'technician')
  await page.setViewportSize({ width: 390, height: 844 })
  const id = await sick(page, 'no start')
  await expect(answer(page)).toContainText('First:')
  await fits(page)
  let clocks = 0
  for (let i = 0; i < 14; i++) {
    const before = await state(page, id)
    if (before.status === 'stop' || !before.next.length) break
    const wait = page.getByRole('button', { name: /^Start \d+ min$/ })
    if (await wait.count()) {
      await wait.click()
      await expect(page.getByRole('timer')).toContainText(/\d+:\d\d/)
      clocks++
    }
    await page.getByRole('button', { name: /^no/ }).click()
    await expect(async () => expect((await state(page, id)).acts.length).toBe(i + 1)).toPass()
    const heading = page.getByRole('heading', {
      name: 'Before the board is called dead',
    })
    if ((await state(page, id)).status === 'gate') await expect(heading).toBeVisible()
    await expect(page.locator('#done li').nth(i)).toBeVisible()
  }
  expect(clocks).toBeGreaterThan(0)
  const done = (await state(page, id)).acts.map((a) => a.act)
  for (const g of [
    'charger 15 min',
    'forced restart',
    'reseat battery lead',
    'reseat battery lead again',
    'known-good battery',
  ])
    expect(done).toContain(g)
  await fits(page)
  await clean(page)
})

test('stop and quote stands beside one act more; given up with a reason; a network that is gone keeps the answer', async ({
  page,
  context,
}) => {
  await signIn(page, 'technician')
  const id = await sick(page, 'touch dead', 'does not react')
  const beside = page.getByRole('region', { name: 'Stop, or go on' })
  await expect(beside).toContainText('Stop and quote now')
  await expect(beside).toContainText(/One step more, \d+ min/)
  await page.getByLabel('It may cost').fill('90')
  await page.keyboard.press('Tab')
  await expect(beside).toContainText(/within 90\.00 \w+ in \d+ of 100/)
  await context.setOffline(true)
  await page.getByRole('button', { name: /^no/ }).click()
  await expect(page.getByText(/Written down here/)).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText(/Written down here/)).toHaveCount(0)
  expect((await state(page, id)).acts.length).toBe(1)
  await page.getByRole('button', { name: 'Give it up, with the reason' }).click()
  await page.getByLabel('Why', { exact: true }).fill('the owner does not want it')
  await page.getByRole('button', { name: 'Give it up', exact: true }).click()
  await expect(answer(page)).toContainText('Given up')
  await page.getByRole('button', { name: 'Open it again' }).click()
  await expect(beside).toBeVisible()
  await clean(page)
})
