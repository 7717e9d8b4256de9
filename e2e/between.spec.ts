import type { Page } from '@playwright/test'

import { answer, clean, expect, fits, signIn, study, tabTo, test } from './bench'

/** The rooms between models, and the instruments that make "slightly bigger" a number. */

/** Chooses an option of a select by keys alone. */
async function pick(page: Page, label: string, typed: string) {
  const box = page.getByRole('combobox', { name: label, exact: true })
  await tabTo(page, box)
  await page.keyboard.type(typed)
  await page.keyboard.press('Enter')
  await expect(box).toHaveAttribute('aria-expanded', 'false')
}
/** Chooses the nth option of a select that cannot be typed into. */
async function pickAt(page: Page, label: string, down: number) {
  const box = page.getByRole('combobox', { name: label, exact: true })
  await tabTo(page, box)
  await page.keyboard.press('Enter')
  await expect(box).toHaveAttribute('aria-expanded', 'true')
  for (let i = 0; i < down; i++) await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(box).toHaveAttribute('aria-expanded', 'false')
}

test.describe('with instruments', () => {
  test.use({ measures: true })

  test('two models measured by the caliper, a swap each way, the chart and the lines, by keyboard alone', async ({
    page,
    world,
  }) => {
    await signIn(page)
    await page.goto('/fit?kind=charge-port')
    await expect(answer(page)).toContainText('0 of 20 ordered pairs tried')
    await expect(page.getByRole('button', { name: 'Drift 3 in Drift 4: untested' })).toBeVisible()

    // One way: the widths are measured before anything is mated, by the key and by the caliper's own button.
    await page.keyboard.press('n')
    await pick(page, 'charge port of', 'Drift 3')
    await pick(page, 'fitted in', 'Drift 4')
    const piece = page.getByLabel('Width on the piece, mm')
    const host = page.getByLabel('Width in the phone, mm')
    await world.turn('caliper', 'SET 8.42')
    await tabTo(page, piece)
    await expect(page.getByRole('button', { name: /^caliper 8\.4\d mm/ })).toBeVisible()
    await page.waitForTimeout(1500) // the display comes to rest
    await page.keyboard.press('F2')
    await expect(page.getByText(/8\.4\d\d? ± 0\.00\d\smm/)).toBeVisible()
    // A reading of the wrong kind is refused in words.
    await page.keyboard.type('47.5 g')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('alert').filter({ hasText: 'a mass (g)' })).toBeVisible()
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.press('Delete')
    await world.turn('caliper', 'SET 8.02')
    await tabTo(page, host)
    await page.waitForTimeout(1500)
    await world.turn('caliper', 'PRESS')
    await expect(page.getByText(/8\.0\d\d? ± 0\.00\d\smm/)).toBeVisible()
    await expect(page.getByRole('alert').filter({ hasText: 'do not force' })).toContainText('mm too wide')
    // Unplugged in mid-reading: nothing is taken, what was read stays, and the brow says so until it is back.
    await world.turn('caliper', 'UNPLUG 4')
    await expect(page.getByRole('button', { name: /^caliper (unplugged|not reachable)/ })).toBeVisible()
    await page.keyboard.press('F2')
    await expect(page.getByText(/8\.0\d\d? ± 0\.00\d\smm/)).toBeVisible()
    await expect(page.getByRole('alert').filter({ hasText: 'nothing was taken' })).toBeVisible()
    await pickAt(page, 'How far did it get?', 2)
    await page.keyboard.press('Escape')
    await tabTo(page, page.getByRole('checkbox', { name: 'reseated twice' }))
    await page.keyboard.press('Space')
    await tabTo(page, page.getByRole('checkbox', { name: 'works in its own phone' }))
    await page.keyboard.press('Space')
    await tabTo(page, page.getByRole('button', { name: 'Record', exact: true }))
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: /^Drift 3 in Drift 4: plug differs, .*1 fittings/ })).toBeVisible()
    await expect(answer(page)).toContainText('1 of 20 ordered pairs tried')

    // The other way.
    await page.keyboard.press('n')
    await pick(page, 'charge port of', 'Drift 4')
    await pick(page, 'fitted in', 'Drift 3')
    await pickAt(page, 'How far did it get?', 8)
    await tabTo(page, page.getByRole('button', { name: 'Record', exact: true }))
    await page.keyboard.press('Enter')
    await expect(answer(page)).toContainText('2 of 20 ordered pairs tried')
    const cell = page.getByRole('button', { name: /^Drift 4 in Drift 3: works in full/ })
    await tabTo(page, cell)
    await page.keyboard.press('Enter')
    await expect(page.locator('#cell')).toContainText('Missing for proof: second fitting, waited, deep')
    await expect(page.locator('#lines')).toContainText('one per model 5')
    await clean(page)
    await fits(page)
  })

  test('the scale’s own button writes its reading into the bench line, with its unit', async ({ page, world }) => {
    await signIn(page)
    const s = await study(page, 'Drift 4, first pair')
    await page.goto(`/studies/${s.id}/strip`)
    const line = page.getByRole('textbox', { name: 'Bench line of PINE' })
    await line.click()
    await page.keyboard.type('m battery')
    await page.keyboard.press('F2') // six instruments, and none was used yet
    await expect(page.getByRole('alert').filter({ hasText: 'Which instrument?' })).toBeVisible()
    await expect(line).toHaveValue('m battery')
    await world.turn('scale', 'PRESS')
    await expect(line).toHaveValue(/^m battery 47\.\dg$/)
    await expect(page.locator('.echo')).toContainText('Measured the battery')
  })
})

test('what changed between two models, and a pair that is refused', async ({ page }) => {
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/compare?model=${s.model}`)
  await expect(answer(page)).toContainText('Drift 4 against Drift 3') // its predecessor, unasked
  await expect(page.locator('#changes')).toContainText('no longer interchanges')
  await expect(page.getByText('The battery is 10 % bigger than that of the Drift 3')).toBeVisible()
  await expect(page.locator('#jobs')).toContainText('27 → 5')
  await expect(answer(page)).toContainText('back glass takes 5.0 min less')
  await expect(page.locator('#causes li').first()).toContainText('back glass takes 5.0 min less')
  await page.keyboard.press('f')
  await expect(page.getByRole('button', { name: /Show the Drift 4/ })).toBeVisible()
  await clean(page)
  await page.setViewportSize({ width: 390, height: 844 })
  await fits(page)
  // The sheet and the job card know the rooms.
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto(`/studies/${s.id}/handover`)
  await expect(page.getByRole('heading', { name: 'Against its predecessor' })).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Batteries of other models' })).toBeVisible()
})

test('a new model starts from its predecessor, and two records of a part become one and two again', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'New study' }).click()
  const form = page.getByRole('dialog', { name: 'New study' })
  await form.getByRole('combobox', { name: 'Model', exact: true }).focus()
  await pick(page, 'Model', 'A model that')
  await form.getByLabel('Maker').fill('Pellow')
  await form.getByLabel('Name of the model').fill('Drift 5')
  await pick(page, 'Starts from its predecessor', 'Drift 4')
  await form.getByRole('button', { name: 'Open the study' }).click()
  await expect(answer(page)).toContainText('Do not open yet')
  const made = await study(page, await page.evaluate(() => document.querySelector('.what span')!.textContent!))
  const sheet = await (await page.request.get(`/api/models/${made.model}`)).json()
  expect(sheet.parts.length).toBeGreaterThan(15)
  expect(sheet.parts.every((p: { source: string }) => p.source === 'inferred by look')).toBe(true)
  await page.goto(`/studies/${made.id}/strip`)
  await page
    .getByRole('button', { name: /^battery/ })
    .first()
    .click()
  let part = page.getByRole('dialog', { name: 'Change battery' })
  await part.getByRole('button', { name: 'Seen here, it is so' }).click()
  await part.getByRole('button', { name: 'Save' }).click()
  await expect(part).toHaveCount(0)
  await page
    .getByRole('button', { name: /^card tray/ })
    .first()
    .click()
  part = page.getByRole('dialog', { name: 'Change card tray' })
  await part.locator('summary').click()
  await pick(page, 'The same part as', 'earpiece')
  await part.getByRole('button', { name: 'Merge into it' }).click()
  await expect(page.getByText('Two parts are one now.')).toBeVisible()
  const parts = async () => (await (await page.request.get(`/api/models/${made.model}`)).json()).parts.length
  expect(await parts()).toBe(sheet.parts.length - 1)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect.poll(parts).toBe(sheet.parts.length)
})
