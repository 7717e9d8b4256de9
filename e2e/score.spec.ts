import { readFileSync } from 'node:fs'

import type { Page } from '@playwright/test'

import { answer, clean, expect, fits, refusal, signIn, study, tabTo, test } from './bench'
import { headers, smallStudy } from './lab'

/** Scores by school: ranges that narrow, whose rule it is, and what would help. */

const whole = (page: Page, rubric: string) => page.locator(`tr[id="${rubric}"] .whole`)
const width = async (page: Page, rubric: string) => {
  const ends = (await whole(page, rubric).innerText()).split('–').map(Number)
  return ends.length === 1 ? 0 : ends[1]! - ends[0]!
}

test('every school beside the others, why, and what would narrow it', async ({ page }) => {
  await signIn(page, 'buyer')
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/models/${s.model}/score`)
  await expect(answer(page)).toContainText(
    /^Physical ease \d\.\d–\d\.\d, pairing first \d\.\d–\d\.\d, the shop's money/,
  )
  await expect(answer(page)).toContainText('One test (what that damage costs (screen)) moves up to')
  for (const school of ['Physical ease', 'Pairing first', "The shop's money", 'Classes of EN 45554'])
    await expect(page.getByRole('button', { name: school, exact: true }).first()).toBeVisible()
  await expect(page.locator('tr[id="regulated-2023-1669"]')).toContainText('unofficial')
  await expect(page.locator('tr[id="regulated-2023-1669"]')).toContainText('D or E')
  await expect(page.locator('#why')).toContainText('Way to the battery')
  await page.getByRole('button', { name: "The shop's money", exact: true }).last().click()
  await expect(page.locator('#why')).toContainText('What the screen job leaves')
  await expect(page.getByText('What an hour of it leaves')).toBeVisible()
  await expect(page.locator('#moved')).toContainText('before the price list of November')
  await expect(page.locator('#moved')).toContainText('Hourly rate of the shop')
  await page.getByRole('link', { name: 'swap tests' }).first().click()
  await expect(page).toHaveURL(/\/swap\?face=known/)
})

test('what somebody says narrows a school, and can be taken back', async ({ page, refusals }) => {
  refusals.push(/422/)
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/models/${s.model}/score?face=facts`)
  const before = await (await page.request.get(`/api/models/${s.model}/score`)).json()
  const range = (room: { schools: { score: { rubric: string; range: [number, number] } }[] }) =>
    room.schools.find((x) => x.score.rubric === 'french-2021')!.score.range
  await tabTo(
    page,
    page.getByRole('button', {
      name: 'Say: Years the documents stay available',
    }),
  )
  await page.keyboard.press('Enter')
  const form = page.getByRole('dialog')
  const field = form.getByRole('spinbutton', { name: 'It is', exact: true })
  await expect(form.locator(':focus')).toHaveCount(1) // the dialog takes the focus once, when it has opened
  await tabTo(page, field)
  await expect(field).toBeFocused()
  await page.keyboard.type('99')
  await page.keyboard.press('Enter')
  await expect(refusal(form).or(form.getByText('0 to 15 years')).first()).toBeVisible()
  await field.fill('7')
  await page.keyboard.press('Enter')
  await expect(form).toHaveCount(0)
  await page.getByRole('button', { name: /^said by people/ }).click()
  await expect(page.getByText('Years the documents stay available')).toBeVisible()
  const after = await (await page.request.get(`/api/models/${s.model}/score`)).json()
  expect(range(after)[1] - range(after)[0]).toBeLessThan(range(before)[1] - range(before)[0])
  await page
    .getByRole('button', {
      name: /^Take back what Bench analyst said of Years the documents/,
    })
    .click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('Years the documents stay available')).toBeVisible()
})

test('a score narrows when a trial is recorded', async ({ page }) => {
  await signIn(page)
  const id = await smallStudy(page, 'Atoll 3', ['touch', 'charging', 'battery-health'])
  const room = await (await page.request.get(`/api/studies/${id}/swap`)).json()
  const model = room.model.id as string
  await page.goto(`/models/${model}/score?face=facts`)
  await expect(answer(page)).toContainText('Physical ease')
  const fact = page.getByRole('listitem').filter({ hasText: 'A genuine battery from another phone' })
  await expect(fact).toContainText('not known')
  await page.goto(`/models/${model}/score`)
  await expect(whole(page, 'pairing-first')).toBeVisible()
  const before = await width(page, 'pairing-first')
  const [pine, amber] = room.units as { id: string; name: string }[]
  const battery = room.slots.find((p: { name: string }) => p.name === 'battery')
  // Lost with another phone's battery, back with its own, on both boards and once more: one reading would prove nothing.
  for (const [board, other, foreign] of [
    [pine, amber, true],
    [pine, amber, false],
    [amber, pine, true],
    [amber, pine, false],
    [pine, amber, true],
    [pine, amber, false],
  ] as const) {
    const sent = await page.request.post(`/api/studies/${id}/trials`, {
      headers: headers(),
      data: {
        id: crypto.randomUUID(),
        board_unit_id: board!.id,
        housing_unit_id: board!.id,
        pieces: foreign ? [{ part_id: battery.id, origin: 'unit', unit_id: other!.id }] : [],
        results: {
          touch: 'pass',
          charging: 'pass',
          'battery-health': foreign ? 'lost' : 'pass',
        },
        minutes: 12,
      },
    })
    expect(sent.status(), await sent.text()).toBe(201)
  }
  await page.reload()
  await expect(whole(page, 'pairing-first')).toBeVisible()
  await expect.poll(() => width(page, 'pairing-first')).toBeLessThan(before)
})

test('a rule of one’s own by keyboard, published by the office, broken ones refused by path', async ({
  page,
  refusals,
}) => {
  refusals.push(/422/)
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/models/${s.model}/score?face=rule`)
  const weight = page.getByRole('slider', { name: 'Weight of screen way' })
  await tabTo(page, weight)
  for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowRight')
  await expect(page.getByText('46 %')).toBeVisible() // 6 of 13
  await expect(page.getByText(/of 10 by this rule/)).toBeVisible()
  const save = page.getByRole('button', { name: 'Save as a method of my own' })
  await tabTo(page, save)
  await page.keyboard.press('Enter')
  await expect(page.getByText('version 1, by Bench analyst, a draft')).toBeVisible()

  await page.getByRole('button', { name: 'As a document' }).click()
  const text = page.getByRole('textbox', { name: 'The rule as JSON' })
  const rule = JSON.parse(await text.inputValue())
  rule.criteria[1].weight = -1
  await text.fill(JSON.stringify(rule))
  await expect(page.getByRole('alert')).toContainText('criteria[1].weight')
  const down = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Download' }).click()
  expect(JSON.parse(readFileSync(await (await down).path(), 'utf8')).criteria[1].weight).toBe(-1)

  await signIn(page, 'admin')
  await page.goto(`/models/${s.model}/score?face=rule`)
  await page.getByRole('button', { name: 'Publish' }).click()
  await expect(page.getByText('version 1, by Bench analyst, shown to everybody')).toBeVisible()
})

for (const [w, h] of [
  [1280, 800],
  [390, 844],
] as const)
  test(`the faces of the score room are clean at ${w}×${h}`, async ({ page }) => {
    await page.setViewportSize({ width: w, height: h })
    await signIn(page)
    const s = await study(page, 'Drift 4, first pair')
    for (const face of ['facts', 'models', 'rule']) {
      await page.goto(`/models/${s.model}/score?study=${s.id}&face=${face}`)
      await expect(answer(page)).toContainText('Physical ease')
      if (face === 'models') await expect(page.getByText(/by scoring method stand/)).toBeVisible()
      if (face === 'rule') await expect(page.getByText(/by this rule/)).toBeVisible()
      await clean(page)
      await fits(page)
    }
  })
