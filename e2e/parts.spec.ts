import type { Page } from '@playwright/test'

import { answer, clean, expect, fits, home, signIn, study, tabTo, test } from './bench'

/** The parts desk as its buyer. */

const pair = 'Drift 4, first pair'

/** Chooses the nth option of a select by keys alone. */
async function pickAt(page: Page, label: string, down: number) {
  const box = page.getByRole('combobox', { name: label, exact: true })
  await tabTo(page, box)
  await page.keyboard.press('Enter')
  await expect(box).toHaveAttribute('aria-expanded', 'true')
  for (let i = 0; i < down; i++) await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(box).toHaveAttribute('aria-expanded', 'false')
}

test('forty offers pasted, the basket, a delivery received, looked at, one sent back, the gate turns', async ({
  page,
}) => {
  await signIn(page, 'buyer')
  const s = await study(page, pair)
  await page.goto(`/parts?model=${s.model}`)
  await expect(answer(page)).toContainText(/of 24 parts needed priced, .* 5 missing/)
  await expect(page.getByText('no offer').first()).toBeVisible()

  // What is missing is pasted out of a spreadsheet.
  await page.goto(`/parts?face=record&model=${s.model}`)
  const slots = ['bracket 2', 'card-tray', 'antenna', 'power-button', 'volume-button']
  const lines = Array.from({ length: 40 }, (_, i) =>
    [
      'North Quay Spares',
      `${slots[i % 5]} no. ${i}`,
      slots[i % 5],
      'used',
      `${2 + i}.50`,
      'EUR',
      '2026-11-20',
      '3',
    ].join('\t'),
  )
  const table = ['seller\ttitle\tcovers\tgrade\tprice\tcurrency\tdate\tstock', ...lines].join('\n')
  const box = page.getByLabel('Rows out of a spreadsheet')
  await tabTo(page, box)
  await page.evaluate((text) => {
    const field = document.activeElement as HTMLTextAreaElement
    field.value = text
    field.dispatchEvent(new Event('input', { bubbles: true }))
    field.dispatchEvent(new Event('change', { bubbles: true }))
  }, table)
  await expect(page.getByText('40 rows: 40 new, 0 changed, 0 as they were, 0 wrong.')).toBeVisible()
  await tabTo(page, page.getByRole('button', { name: 'Put in 40 rows' }))
  await page.keyboard.press('Enter')
  await expect(page.getByText('Put in: 40 new')).toBeVisible()
  await expect(answer(page)).toContainText('56 offers of 3 sellers')

  await page.goto(`/parts?model=${s.model}`)
  await expect(answer(page)).toContainText('24 of 24 parts needed priced')
  await expect(answer(page)).toContainText(/At 520\.00 EUR for a refurbished one it pays only above/)
  await expect(page.getByText('The basket, proven the cheapest')).toBeVisible()
  await tabTo(page, page.getByRole('button', { name: 'What would each one cost us if it were gone?' }))
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Second best: /)).toBeVisible()

  // A lot comes in, is looked at, one goes back; what is good goes into stock.
  await page.goto('/parts?face=incoming')
  await tabTo(page, page.getByRole('button', { name: 'Receive a delivery' }))
  await page.keyboard.press('Enter')
  const form = page.getByRole('dialog')
  await pickAt(page, 'Seller', 1)
  const model = form.getByRole('combobox', { name: 'For the model', exact: true })
  await tabTo(page, model)
  await page.keyboard.type('Drift 4')
  await page.keyboard.press('Enter')
  await tabTo(page, form.getByRole('textbox', { name: 'What', exact: true }))
  await page.keyboard.type('battery pull tabs')
  await pickAt(page, 'Grade', 1)
  await tabTo(page, form.getByRole('textbox', { name: 'Lot, as on the delivery' }))
  await page.keyboard.type('tabs-9')
  await tabTo(page, form.getByRole('spinbutton', { name: 'Pieces' }))
  await page.keyboard.type('5')
  await tabTo(page, form.getByRole('spinbutton', { name: 'Looked at' }))
  await page.keyboard.type('5')
  await page.keyboard.press('Enter')
  await expect(form).toHaveCount(0)
  const lot = page.getByRole('listitem').filter({ hasText: 'lot tabs-9' })
  await expect(lot).toContainText('passes')
  const gate = () => page.request.get(`/api/models/${s.model}/gate/battery`)
  expect(await (await gate()).text()).toContain('missing_consumable')
  await lot.getByLabel('Place of lot tabs-9').fill('drawer A4')
  const put = page.waitForResponse((r) => r.url().endsWith('/stock') && r.request().method() === 'POST')
  await page.keyboard.press('Enter')
  expect((await put).status()).toBe(201)
  await page.goto('/parts?face=stock')
  await expect(page.getByText('drawer A4')).toBeVisible()
  expect(await (await gate()).text()).not.toContain('missing_consumable')

  await page.goto('/parts?face=incoming')
  await page.getByRole('button', { name: 'Inspected: lot tabs-9' }).click()
  await form.getByRole('spinbutton', { name: 'Bad' }).fill('1')
  await form.getByLabel('Why, one a line').fill('tears at the fold')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(lot).toContainText('does not pass')
  await expect(lot).toContainText('Went back for: tears at the fold.')
})

test('a job card asks the gate; a job is written down, refused with a why, deleted and brought back', async ({
  page,
  refusals,
}) => {
  refusals.push(/422/)
  await signIn(page, 'technician')
  const s = await study(page, pair)
  await home(page)
  await page.keyboard.type('PB-4417')
  await page
    .getByRole('option', { name: /battery/ })
    .first()
    .click()
  await expect(page.locator('#there')).toContainText('battery pull tabs')
  await expect(page.locator('#gate')).toContainText('a function is lost')
  await page.goto(`/parts?face=jobs&model=${s.model}`)
  await page.getByRole('button', { name: 'Add: job' }).click()
  const form = page.getByRole('dialog')
  await pickAt(page, 'Status', 5)
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form.getByText('why it was refused, or taken against the advice').first()).toBeVisible()
  await form.getByLabel('Why refused, or taken all the same').fill('no pull tabs before Friday')
  await page.keyboard.press('Enter')
  await expect(form).toHaveCount(0)
  const row = page.getByRole('row').filter({ hasText: 'no pull tabs before Friday' })
  await expect(row).toContainText('refused')
  await row.getByRole('button', { name: /^delete/ }).click()
  await expect(row).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(row).toBeVisible()
  expect(s.model).toBeTruthy()

  // Taken after all, and closed: an incident needs the part that was hurt; then its piece has left the shelf.
  await row.getByRole('button', { name: /^change/ }).click()
  const choose = async (label: string, name: string) => {
    const box = form.getByRole('combobox', { name: label, exact: true })
    await box.focus()
    await page.keyboard.press('Enter')
    await expect(box).toHaveAttribute('aria-expanded', 'true')
    await form.getByRole('option', { name, exact: true }).locator('visible=true').click()
  }
  await choose('Status', 'closed')
  await choose('How it went, once closed', 'incident')
  await form.getByLabel('Minutes at the bench').fill('55')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form.getByText(/the part that was damaged, after an incident/).first()).toBeVisible()
  await choose('How it went, once closed', 'fine')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form).toHaveCount(0)
  await expect(row).toContainText('fine; piece from the shelf; 55 min')
})

for (const [w, h] of [
  [1280, 800],
  [390, 844],
] as const)
  test(`the faces of the parts desk are clean at ${w}×${h}`, async ({ page }) => {
    await page.setViewportSize({ width: w, height: h })
    await signIn(page, 'buyer')
    const s = await study(page, pair)
    for (const face of ['basket', 'stock', 'incoming', 'jobs', 'donors', 'record', 'workshop']) {
      await page.goto(`/parts?face=${face}&model=${s.model}`)
      await expect(answer(page)).not.toContainText('Reading')
      await clean(page)
      await fits(page)
    }
  })

test('what each offer is worth is asked one by one, shows how far it is, and can be stopped', async ({ page }) => {
  await signIn(page, 'buyer')
  const s = await study(page, 'Drift 4, first pair')
  let asked = 0
  let hold: (() => void) | undefined
  await page.route(/basket.*without=/, async (r) => {
    asked++
    if (asked === 3) await new Promise<void>((go) => (hold = go))
    await r.continue().catch(() => undefined)
  })
  await page.goto(`/parts?model=${s.model}`)
  await page.getByRole('button', { name: 'What would each one cost us if it were gone?' }).click()
  await expect(page.getByText(/^3 of \d+$/)).toBeVisible()
  await expect(page.getByText(/without it .* more|nothing else covers its part/)).toHaveCount(2)
  await page.getByRole('button', { name: 'Stop' }).click()
  hold!()
  await expect(page.getByRole('button', { name: 'Stop' })).toHaveCount(0)
  expect(asked).toBe(3)
  // A total that somebody named and that the lines do not make is asked about.
  await page.getByLabel('Seller’s quote').fill('502')
  await page.keyboard.press('Tab')
  await expect(page.getByText(/unexplained/).first()).toBeVisible()
})

test('one part on one page, an opened donor, a lot beside an original', async ({ page }) => {
  await signIn(page, 'buyer')
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/parts?face=part&model=${s.model}`)
  await expect(answer(page)).toContainText('Which part?')
  await page.getByRole('combobox', { name: 'Which part' }).click()
  await page.keyboard.type('battery')
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText('Battery of the Pellow Drift 4: from')
  for (const heading of ['What is compatible with it, and where it fits', 'Offers', 'In stock', 'The way to it'])
    await expect(page.getByRole('heading', { name: heading, exact: true })).toBeVisible()
  await clean(page)

  // The donor, once it is open: a display that is whole, a battery that goes into quarantine.
  await page.getByRole('button', { name: 'Donors' }).click()
  await expect(answer(page)).toContainText('Bid at most')
  await page.getByRole('button', { name: 'display assembly: not seen' }).click()
  await expect(answer(page)).toContainText('Opened, it is worth')
  await page.getByRole('button', { name: 'battery: not seen' }).click()
  await page.getByLabel('Which phone').fill('donor 14')
  await page.getByLabel('Place', { exact: true }).fill('fire-safe box')
  const row = page.getByRole('row').filter({ has: page.getByRole('button', { name: 'battery: good' }) })
  await row.getByRole('button', { name: 'Into stock' }).click()
  await expect(row.getByText('in stock')).toBeVisible()
  await page.goto(`/parts?face=stock`)
  await expect(page.getByText(/salvaged battery: not inspected yet/).first()).toBeVisible()

  // A lot is measured beside an original: a cell that is too thick is not one of its maker's.
  await page.goto('/parts?face=incoming')
  const lot = page.locator('li').filter({ hasText: 'harbour-7' }).first()
  await lot.getByText('What to look at').click()
  await lot.getByLabel('thickness, mm').fill('4.91')
  await lot.getByLabel('thickness, mm').press('Enter')
  await lot.getByRole('button', { name: 'Keep what was measured' }).click()
  await expect(lot.getByText(/not an original's/)).toBeVisible()
  const png = await page.screenshot({ clip: { x: 0, y: 0, width: 200, height: 120 } })
  const picker = lot.getByLabel('Picture file of this lot')
  await picker.setInputFiles({ name: 'rim.png', mimeType: 'image/png', buffer: png })
  const kept = lot.getByRole('img', { name: 'piece 1 of this lot' })
  await expect(kept).toBeVisible()
  await lot.getByRole('button', { name: 'Delete picture 1 of the lot' }).click()
  await expect(kept).toHaveCount(0)
  await lot.getByRole('button', { name: 'Undo' }).click()
  await expect(kept).toBeVisible()
  await page.setViewportSize({ width: 390, height: 844 })
  await fits(page)
})
