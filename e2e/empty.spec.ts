import type { Page } from '@playwright/test'

import { answer, clean, expect, fits, signIn, test } from './bench'
import { headers } from './lab'

/** The rooms of scores, hand-over and the parts desk before anything was recorded, and with names that go on and on. */
test.use({ empty: true })

const long = 'Drift with a name that goes on and on and on until the very end of its line and beyond it'.slice(0, 80)

async function make(page: Page, parts: string[]) {
  const id = () => crypto.randomUUID()
  const post = async (path: string, data: object) => {
    const sent = await page.request.post(path, { headers: headers(), data })
    expect(sent.status(), await sent.text()).toBe(201)
    return sent.json()
  }
  const model = await post('/api/models', { id: id(), maker: 'Pellow', name: long, entry: 'front' })
  for (const name of parts) await post(`/api/models/${model.id}/parts`, { id: id(), name, family: 'PW', slot: true })
  const study = await post('/api/studies', {
    id: id(),
    model_id: model.id,
    title: `${long}, opened for the first time`,
  })
  return { model: model.id as string, study: study.id as string }
}

for (const [w, h] of [
  [1280, 800],
  [390, 844],
] as const)
  test(`nothing on record, and long names, at ${w}×${h}`, async ({ page }) => {
    await page.setViewportSize({ width: w, height: h })
    await signIn(page)
    const s = await make(page, [`battery ${'of a long, long name '.repeat(3)}`.slice(0, 80)])
    const rooms: [string, RegExp][] = [
      [`/models/${s.model}/score?study=${s.study}`, /^Physical ease \d/],
      [`/models/${s.model}/score?study=${s.study}&face=facts`, /^Physical ease \d/],
      [`/models/${s.model}/score?study=${s.study}&face=models`, /^Physical ease \d/],
      [`/models/${s.model}/score?study=${s.study}&face=rule`, /^Physical ease \d/],
      [`/studies/${s.study}/handover`, /^Nothing to stand behind yet/],
      ['/parts', /^Nothing is short/],
      ['/parts?face=basket', /^For which model\?/],
      [`/parts?model=${s.model}`, /^None of the \d+ parts needed has an offer yet/],
      ['/parts?face=stock', /^Nothing to keep yet/],
      ['/parts?face=incoming', /^Nothing came in yet/],
      [`/parts?face=jobs&model=${s.model}`, /^0 of 0 jobs are open/],
      [`/parts?face=donors&model=${s.model}`, /^No bid/],
      [`/parts?face=record&model=${s.model}`, /^0 offers of 0 sellers/],
      ['/parts?face=workshop', /^Nothing was set yet/],
    ]
    for (const [path, says] of rooms) {
      await page.goto(path)
      await expect(answer(page)).toContainText(says)
      await fits(page)
    }
    await page.goto(`/studies/${s.study}/handover`)
    await clean(page)
    await page.goto(`/parts?model=${s.model}`)
    await clean(page)
    const sheet = await page.request.get(`/api/studies/${s.study}/sheet/pdf`)
    expect(sheet.status()).toBe(200)
    expect((await sheet.body()).subarray(0, 5).toString()).toBe('%PDF-')
  })

test('the first offer of an empty desk: the settings, a seller and an offer', async ({ page }) => {
  await signIn(page)
  const s = await make(page, ['battery'])
  await signIn(page, 'buyer')
  await page.goto('/parts?face=workshop')
  await page.getByLabel('Currency').fill('SEK')
  await page.getByRole('spinbutton', { name: 'An hour at the bench' }).fill('120')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(answer(page)).toContainText('as the office set it')
  await page.goto(`/parts?face=record&model=${s.model}`)
  await page.getByRole('button', { name: 'Add: seller' }).click()
  const form = page.getByRole('dialog')
  await form.getByRole('textbox', { name: 'Name', exact: true }).fill('North Quay')
  await expect(form.getByRole('textbox', { name: 'Currency' })).toHaveValue('SEK')
  await form.getByRole('spinbutton', { name: 'Shipping' }).fill('49')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form).toHaveCount(0)
  await page.getByRole('button', { name: 'Add: offer' }).click()
  await form.getByRole('textbox', { name: 'What it is' }).fill('battery, original')
  const seller = form.getByRole('combobox', { name: 'Seller', exact: true })
  await seller.focus()
  await page.keyboard.press('Enter')
  await page.locator('.el-select-dropdown:visible').getByRole('option', { name: 'North Quay' }).click()
  await form.getByRole('textbox', { name: /^Fills/ }).fill('battery')
  await form.getByRole('spinbutton', { name: 'Price of the pack' }).fill('219.50')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByRole('row').filter({ hasText: 'battery, original' })).toContainText('219.50')
  await page.goto(`/parts?model=${s.model}`)
  await expect(answer(page)).toContainText('1 of 1 parts needed priced, 273.98 SEK') // 219.50, 49.00, 0.02/0.98 of both again
  const room = await (await page.request.get(`/api/models/${s.model}/score`)).json()
  const rate = room.facts.find((f: { id: string }) => f.id === 'shop.rate')
  expect(rate.said).toBe('120.00 SEK')
})
