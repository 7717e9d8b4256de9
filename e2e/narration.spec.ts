import type { Page } from '@playwright/test'

import { answer, clean, expect, fits, signIn, test } from './bench'
import { headers, smallStudy } from './lab'

// The film that is chosen plays from the device; a refused logging is asked again.
test.use({ refusals: [/422/] })

const said = `WEBVTT

00:00:03.000 --> 00:00:12.000
morning, this is the boat phone. touch works, and charging works.

00:00:14.000 --> 00:00:21.000
two five lobe screws at the bottom are out, they're six and a half millimetres long

00:00:40.000 --> 00:00:52.000
heat pad at eighty degrees for two minutes. no gap yet

00:02:50.000 --> 00:03:01.000
another two minutes at eighty five. there now it gives, and the rear glass is off

00:03:10.000 --> 00:03:19.000
a quick word from the people who pay for the tea, this month brought to you by harbour mail, ten percent off

00:03:22.000 --> 00:03:31.000
back to work. bracket with three cross screws, no sorry, four. four cross screws out and bracket off

00:03:40.000 --> 00:03:48.000
battery disconnected with the spudger, and the display flex unplugged

00:03:55.000 --> 00:04:06.000
they say the main board comes out with a pull. I would never pull on that flex

00:04:12.000 --> 00:04:21.000
earpiece out, no wait, loudspeaker out. it weighs one point four grams

00:04:30.000 --> 00:04:42.000
the battery is out. label says four thousand and fifty milliamp hours

00:05:10.000 --> 00:05:22.000
putting it back now. battery in, loudspeaker in

00:06:00.000 --> 00:06:12.000
it boots, touch works, loudspeaker works, charging works

00:06:50.000 --> 00:06:58.000
one washer is left over on the tray. that's it for now
`

interface Strip {
  units: { id: string; name: string }[]
  steps: { id: string; verb: string; what: string; count: number }[]
  log: { unit_id: string; kind: string; step_id: string; line: string; back: boolean; detail: { said?: object } }[]
}
const strip = async (page: Page, id: string): Promise<Strip> =>
  (await page.request.get(`/api/studies/${id}/strip`)).json()
const plan = (s: Strip) => s.steps.map((x) => [x.verb, x.what, x.count].join(' ')).sort((a, b) => a.localeCompare(b))

test('a narration of seven minutes becomes a log by few keys, and leaves it whole', async ({ page }) => {
  await signIn(page)
  const id = await smallStudy(page, 'Atoll 8')
  await page.goto(`/studies/${id}/strip`)
  await page.getByRole('link', { name: 'from a recording' }).click()
  await page.getByRole('radio', { name: 'PINE' }).check()
  await page.getByLabel('What was said').fill(said)
  await page.getByRole('button', { name: 'Read what was said' }).click()
  await expect(answer(page)).toContainText('Nothing is logged before you say so')
  await clean(page)

  let keys = 0
  const press = async (...list: string[]) => {
    for (const k of list) {
      keys++
      await page.keyboard.press(k)
    }
  }
  const row = (text: string) => page.locator('[data-offer]', { hasText: text })
  await expect(row('take out earpiece')).toContainText('taken back')
  await expect(row('take out main board')).toContainText('said by others')
  const reach = async (text: string, way: string) => {
    for (let i = 0; i < 30 && !(await row(text).evaluate((e) => e.classList.contains('now'))); i++) await press(way)
  }
  // Two mends: three screws instead of two, and another figure.
  await row('unscrew 2 five-lobe screws').click()
  await press('e')
  await expect(page.getByRole('textbox', { name: /Line of/ })).toBeFocused()
  await expect(page.getByRole('textbox', { name: /Line of/ })).toHaveValue('u 2 five-lobe')
  await press('Home', 'ArrowRight', 'ArrowRight', 'Delete', '3', 'Enter')
  await row('measured battery, 4050 mAh').click()
  await press('e', 'End', 'ArrowLeft', 'ArrowLeft', 'ArrowLeft', 'Backspace', '5', 'Enter')
  await reach('unscrew 4 cross screws', 'ArrowUp')
  await press('a', 'l')
  // The display lead was unplugged after the battery: nothing to ask here. What was logged is shown, with its way back.
  await expect(page.getByRole('status').filter({ hasText: 'entries logged' })).toBeVisible()
  expect(keys).toBeLessThanOrEqual(40)
  const byHand = (await strip(page, id)).log.reduce((n, e) => n + e.line.length + 1, 0)
  test.info().annotations.push({ type: 'keys', description: `${keys} keys, ${byHand} to type the same lines` })
  expect(3 * keys).toBeLessThanOrEqual(byHand)

  const s = await strip(page, id)
  const pine = s.units.find((u) => u.name === 'PINE')!.id
  expect(s.log.every((e) => e.unit_id === pine && e.detail.said)).toBe(true)
  const lines = s.log.map((e) => e.line)
  expect(lines).toContain('u 3 five-lobe')
  expect(lines).toContain('m battery 4055mAh')
  expect(lines.join()).not.toContain('earpiece')
  expect(s.log.filter((e) => e.kind === 'check')).toHaveLength(5)

  // The same typed by hand on a second study gives the same plan.
  const second = await smallStudy(page, 'Atoll 9')
  const typed = (await strip(page, second)).units.find((u) => u.name === 'PINE')!.id
  for (const line of lines.filter(Boolean)) {
    const sent = await page.request.post(`/api/studies/${second}/log`, {
      headers: headers(),
      data: { id: crypto.randomUUID(), unit_id: typed, line },
    })
    expect(sent.status(), await sent.text()).toBe(201)
  }
  expect(plan(await strip(page, second))).toEqual(plan(s))

  // The same recording again: all of it is known. Then it leaves as a whole.
  await expect(row('unscrew 4 cross screws')).toContainText('in the log already')
  await expect(row('unscrew 2 five-lobe')).toContainText('you typed 3, said 2')
  await page.locator('body').press('u')
  await expect(page.getByRole('status').filter({ hasText: 'entries logged' })).toHaveCount(0)
  expect((await strip(page, id)).log).toHaveLength(0)

  await page.setViewportSize({ width: 390, height: 844 })
  await fits(page)
})

test('a stop is asked once for a recording, and what is dictated without times is read', async ({ page }) => {
  await signIn(page)
  const id = await smallStudy(page, 'Atoll 10')
  const { model } = (await (await page.request.get(`/api/studies/${id}/strip`)).json()) as { model: { id: string } }
  for (const name of ['upper bracket', 'lower bracket'])
    await page.request.post(`/api/models/${model.id}/parts`, {
      headers: headers(),
      data: { id: crypto.randomUUID(), name, family: 'FR', x_mm: 0, y_mm: 0, w_mm: 0, h_mm: 0 },
    })
  await page.goto(`/studies/${id}/narration`)
  await page.getByRole('radio', { name: 'AMBER' }).check()
  await page.getByLabel('What was said').fill('rear glass off\nbracket off\ndisplay flex unplugged\nloudspeaker out')
  await page.getByRole('button', { name: 'Read what was said' }).click()
  // Two brackets: it asks which one, and a digit says so. Enter alone does not.
  const bracket = page.locator('[data-offer]', { hasText: 'bracket' })
  await expect(bracket).toHaveClass(/now/)
  await page.keyboard.press('Enter')
  await expect(bracket).toContainText('which?')
  await page.keyboard.press('q')
  await expect(page.locator('[data-offer]')).toHaveCount(1)
  await page.keyboard.press('2')
  await page.keyboard.press('q')
  await expect(bracket).toContainText('accepted')
  await page.keyboard.press('a')
  await page.keyboard.press('l')
  const ask = page.getByRole('alertdialog')
  await expect(ask).toContainText('battery')
  await page.keyboard.press('1')
  await expect(ask).toHaveCount(0)
  expect((await strip(page, id)).log).toHaveLength(0)
  await page.keyboard.press('l')
  await expect(ask).toBeVisible()
  await page.keyboard.press('2')
  await expect(page.getByRole('status').filter({ hasText: '4 entries logged' })).toBeVisible()
  await page.getByRole('link', { name: 'To the log' }).click()
  await expect(page.locator('#log')).toContainText('stop “power”: already done')
})

test('a word is taught, the clock is laid over the log, the film gets its chapters, and dictation is proposed at once', async ({
  page,
}) => {
  await signIn(page)
  const id = await smallStudy(page, 'Atoll 11')
  const pine = (await strip(page, id)).units.find((u) => u.name === 'PINE')!.id
  await page.request.post(`/api/studies/${id}/log`, {
    headers: { ...headers(), 'Happened-At': new Date(Date.now() - 600_000).toISOString() },
    data: { id: crypto.randomUUID(), unit_id: pine, line: 'rear glass off' },
  })
  await page.goto(`/studies/${id}/narration`)
  await page.getByRole('radio', { name: 'PINE' }).check()
  await page.getByLabel('What was said').fill('[0:10] rear glass off\n[0:20] brummer out\n---\n[0:05] touch works\n')
  await page.getByRole('button', { name: 'Read what was said' }).click()
  const row = (text: string) => page.locator('[data-offer]', { hasText: text })
  const began = page.getByLabel('When the recording began')
  const before = await began.inputValue()
  await row('rear glass').click()
  await row('rear glass')
    .getByRole('button', { name: /lay the recording's clock/ })
    .click()
  await expect(began).not.toHaveValue(before)
  await expect(row('loudspeaker')).toHaveCount(0)
  await page.getByLabel('The word').fill('brummer')
  await page.getByRole('combobox', { name: 'The part that it means' }).fill('loud')
  await page.getByRole('option', { name: 'loudspeaker' }).click()
  await page.getByRole('button', { name: 'From now on' }).click()
  await expect(row('loudspeaker')).toBeVisible()
  await row('loudspeaker').click()
  await page.locator('body').press('Enter')
  await row('touch').click()
  await page.locator('body').press('Enter')
  await page.locator('body').press('l')
  await expect(page.getByRole('status').filter({ hasText: '2 entries logged' })).toBeVisible()
  const href = await page.getByRole('link', { name: 'chapters' }).getAttribute('href')
  const film = await (await page.request.get(href!)).text()
  expect(film).toContain('00:00:20.000 --> 00:00:26.000\nTake out loudspeaker')
  await clean(page)

  await page.goto(`/studies/${id}/strip?phone=${pine}`)
  await page.getByRole('button', { name: 'dictate' }).click()
  await page.getByLabel('What is dictated').fill('battery disconnected')
  await expect(page.getByRole('form', { name: 'Listen' })).toContainText('unplug battery')
  await page.getByLabel('What is dictated').press('Enter')
  await expect(page.getByRole('form', { name: 'Listen' })).not.toContainText('unplug battery')
  await expect.poll(async () => (await strip(page, id)).log.map((e) => e.line)).toContain('d battery')
  await page.getByRole('button', { name: 'Type instead' }).click()
  await expect(page.locator('#bench-line')).toBeVisible()
})
