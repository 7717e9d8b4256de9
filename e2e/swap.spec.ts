import type { Locator, Page } from '@playwright/test'

import { answer, choose, clean, expect, fits, signIn, study, tabTo, test } from './bench'
import { followCard, headers, smallStudy } from './lab'

const demo = 'Drift 4, first pair'
// The refusals that are expected: an irreversible act that asks first, and a service that does not answer.
test.use({ refusals: [/status of 42[24]/] })

test('a whole study by keyboard alone: from the swap board to settled verdicts, with a false loss that is repeated', async ({
  page,
}) => {
  await signIn(page)
  await page.goto(`/studies/${await smallStudy(page, 'Skerry 1')}/swap`)
  await expect(answer(page)).toContainText('exchange the main boards first')
  // What is hidden: a display that is not the board's own costs touch. The first reading of a foreign loudspeaker is a bad seat.
  let seat = false
  let rounds = 0
  for (; rounds < 24; rounds++) {
    if (/^3 of 3 checks settled/.test((await answer(page).textContent()) ?? '')) break
    await followCard(page, (foreign) => {
      const quiet = foreign('loudspeaker') && !seat
      seat ||= quiet
      return [...(foreign('display') ? ['Touch'] : []), ...(quiet ? ['Loudspeaker'] : [])]
    })
    await expect(page.getByText(`t${rounds + 1}`, { exact: true }).first()).toBeVisible()
    if (rounds === 0) await expect(page.getByText('lost: Touch, corners included; Loudspeaker')).toBeVisible()
  }
  await expect(answer(page)).toContainText('3 of 3 checks settled')
  expect(seat && rounds > 3, `${rounds} rounds`).toBe(true)
  // The bad seat is doubted by name, and the culprit stands in the grid.
  await expect(page.getByText(/Loudspeaker: noise with|disagree: a bad seat/).first()).toBeVisible()
  await tabTo(page, page.getByRole('button', { name: 'Results', exact: true }))
  await page.keyboard.press('Enter')
  const cell = page
    .getByRole('region', { name: 'Parts and lost checks' })
    .getByRole('button', { name: 'display, from another phone, touch: loses functions' })
  await tabTo(page, cell, 120)
  await page.keyboard.press('Enter')
  await expect(page.locator('.evidence')).toContainText('loses the function with')
  await clean(page)
})

const slot = (page: Page, name: string) => page.locator('.slots').getByRole('button', { name: new RegExp(`^${name}`) })

async function act(page: Page, fill: (form: Locator) => Promise<void>) {
  await page.getByRole('button', { name: /Done between trials/ }).click()
  const form = page.getByRole('form', { name: 'Done between trials' })
  await fill(form)
  return form
}

test('a piece is moved by drag and by key, adopted by the service, and its reversal shows in the ledger', async ({
  page,
  world,
}) => {
  await signIn(page)
  await page.goto(`/studies/${await smallStudy(page, 'Skerry 2')}/swap`)
  await expect(slot(page, 'battery in PINE: PINE its own')).toBeVisible()
  const mode = async (m: string) =>
    expect(
      (
        await page.request.post(`${world.calibration}/mode`, {
          data: { mode: m },
        })
      ).status(),
    ).toBe(204)
  // By drag: PINE's battery onto AMBER.
  const from = page.getByRole('group', { name: 'PINE, parts' }).getByRole('button', { name: /^battery/ })
  const to = page.getByRole('group', { name: 'AMBER, parts' }).getByRole('button', { name: /^battery/ })
  await from.dragTo(to)
  await expect(slot(page, 'battery in PINE: AMBER from another phone')).toBeVisible()
  await expect(page.getByText('PINE board: 1 from another phone, 2 its own')).toBeVisible()
  // All home is one key: the pieces lie in their own phones again, and the trial that controls it is open.
  await page.keyboard.press('h')
  const control = page.getByRole('form', { name: 'A trial, board first' })
  await expect(control).toBeVisible()
  await page.goBack()
  await expect(slot(page, 'battery in PINE: PINE its own')).toBeVisible()
  await slot(page, 'battery in PINE').focus()
  await page.keyboard.press('m')
  await expect(slot(page, 'battery in PINE: AMBER from another phone')).toBeVisible()
  // By key: out to the mat, then the original back home.
  await slot(page, 'battery in PINE').focus()
  await page.keyboard.press('o')
  await expect(slot(page, 'battery in PINE: .*left off')).toBeVisible()
  await expect(page.locator('.mat')).toContainText('AMBER: battery')
  await slot(page, 'battery in PINE').focus()
  await page.keyboard.press('h')
  await expect(slot(page, 'battery in PINE: PINE its own')).toBeVisible()
  await slot(page, 'display in PINE').focus()
  await page.keyboard.press('m')
  await expect(slot(page, 'display in PINE: AMBER from another phone')).toBeVisible()
  // The service is down, then slow, then it answers; nothing is recorded until it does. What cannot be undone asks first.
  const calibrate = async (form: Locator) => {
    await choose(page, form, 'What was done', 'Calibrate with the maker’s service')
    await choose(page, form, 'On which phone', 'PINE')
    await form.getByRole('checkbox', { name: /^display/ }).check()
    await form.getByRole('button', { name: 'Ask the service' }).click()
    await expect(form.getByText('This cannot be undone.')).toBeVisible()
    await form.getByRole('button', { name: /I have read it/ }).click()
  }
  await mode('down')
  let form = await act(page, calibrate)
  await expect(form.getByText(/cannot be reached/)).toBeVisible()
  await mode('slow')
  await form.getByRole('button', { name: 'Ask the service' }).click()
  await form.getByRole('button', { name: /I have read it/ }).click()
  await expect(form.getByText(/did not answer in time/)).toBeVisible()
  await mode('refuse')
  await form.getByRole('button', { name: 'Ask the service' }).click()
  await form.getByRole('button', { name: /I have read it/ }).click()
  await expect(form.getByText('The service refused: the service refuses this model.')).toBeVisible()
  await form.getByRole('button', { name: 'Close' }).click()
  await mode('ok')
  form = await act(page, calibrate)
  await expect(form.getByText('The service accepted')).toBeVisible()
  await form.getByRole('button', { name: 'Close' }).click()
  await expect(slot(page, 'display in PINE: AMBER calibrated to this board')).toBeVisible()
  await slot(page, 'display in PINE').focus()
  await page.keyboard.press('h')
  await expect(slot(page, 'display in PINE: PINE from another phone')).toBeVisible() // the original is a stranger to its own board now
  // A second unit would lose the last control: the warning says so.
  form = await act(page, async (f) => {
    await choose(page, f, 'What was done', 'Flashed')
    await choose(page, f, 'On which phone', 'AMBER')
    await f.getByLabel('Build that it carries now').fill('2.1')
    await f.getByRole('button', { name: 'Record it' }).click()
  })
  await expect(form.getByText(/the last control goes/)).toBeVisible()
  await form.getByRole('button', { name: 'Leave it' }).click()
  await clean(page)
})

test('a trial holds what was seen: hollow fills, a notice, a later reading, a phone with a fault and the account', async ({
  page,
}) => {
  await signIn(page)
  await page.goto(`/studies/${await smallStudy(page, 'Skerry 3')}/swap`)
  await expect(answer(page)).toContainText('exchange the main boards first')
  await page.keyboard.press('n')
  const form = page.getByRole('form', { name: 'A trial, board first' })
  await form.getByRole('button', { name: 'As baseline', exact: true }).click()
  await expect(form.getByText('3 checks are filled in and hollow')).toBeVisible()
  await expect(form.getByRole('button', { name: 'Loudspeaker: assumed' })).toBeVisible()
  await form.getByRole('button', { name: /I saw all 3/ }).click()
  await form.getByRole('button', { name: 'A notice' }).click()
  await form.getByLabel('Notice 1', { exact: true }).fill('Unknown display')
  await form.getByLabel('Symptom in words').fill('half bright for a minute')
  await form.getByRole('button', { name: 'Read again later' }).click()
  await form.getByRole('button', { name: 'Again: Touch, corners included: untested' }).press('l')
  await form.getByRole('button', { name: 'Record the trial' }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByText('notice: “Unknown display”')).toBeVisible()
  await expect(page.getByText(/read again at 10 min after restart, charge, settling: 1 lost of 1/)).toBeVisible()
  await expect(page.getByText('Notice “Unknown display”').first()).toBeVisible()
  // A phone of the study that is sick has a room of its own, and comes back as an open question.
  await page.getByRole('button', { name: 'Find a fault of PINE' }).click()
  await expect(answer(page)).toContainText('What is wrong with PINE?')
  await page.goBack()
  await expect(page.getByRole('link', { name: 'PINE: symptom not chosen' })).toBeVisible()
  await page.getByRole('button', { name: 'Summary' }).click()
  await expect(page.getByRole('heading', { name: 'Not shown' })).toBeVisible()
  await expect(
    page.getByRole('table', { name: 'Repair or replace' }).getByRole('row', { name: /display/ }),
  ).toBeVisible()
})

test('guards, a budget and the reader’s noise: what is shown before anyone draws a conclusion', async ({ page }) => {
  await signIn(page)
  const id = await smallStudy(page, 'Skerry 4')
  await page.goto(`/studies/${id}/swap`)
  await expect(slot(page, 'display in PINE: PINE its own')).toBeVisible()
  // A swap by mouse, recorded for both boards in a row.
  await slot(page, 'display in PINE').click()
  await page.getByRole('group', { name: 'The chosen piece' }).getByRole('button', { name: 'Exchange' }).click()
  await expect(slot(page, 'display in PINE: AMBER from another phone')).toBeVisible()
  await page.getByRole('button', { name: /Record a trial/ }).click()
  const form = page.getByRole('form', { name: 'A trial, board first' })
  await form.getByRole('button', { name: /^Touch, corners/ }).focus()
  await page.keyboard.type('lpp')
  await form.getByRole('button', { name: /^Record it, then the/ }).click()
  await expect(form.getByText('1 piece is not its own')).toBeVisible()
  await form.getByRole('button', { name: /^Touch, corners/ }).focus()
  await page.keyboard.type('lpp')
  await form.getByRole('button', { name: 'Record the trial' }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByText('PINE board: 1 from another phone, 2 its own').first()).toBeVisible()
  await expect(page.getByText('AMBER board: 1 from another phone, 2 its own').first()).toBeVisible()
  // With little time left the sequence that settles most is listed, and it fits.
  await page.getByLabel('Minutes left at the bench').fill('65')
  await page.keyboard.press('Tab')
  await expect(page.getByRole('heading', { name: 'What settles most in 65 min' })).toBeVisible()
  await expect(page.getByText(/chosen one after the other/)).toBeVisible()
  await page.getByLabel('Minutes left at the bench').fill('')
  await page.keyboard.press('Tab')
  // The reader distrusts the readings: the same trials say less.
  await page.getByRole('button', { name: 'Results', exact: true }).click()
  const suspect = page
    .locator('.sus')
    .getByRole('listitem')
    .filter({ hasText: /display, from another phone$/ })
  const before = Number((await suspect.textContent())?.match(/(\d+)\s*%/)?.[1])
  await page.getByLabel('Chance of a wrong loss').fill('20')
  await expect(page.getByText('20 %').first()).toBeVisible()
  await expect(async () => {
    expect(Number((await suspect.textContent())?.match(/(\d+)\s*%/)?.[1])).toBeLessThan(before)
  }).toPass()
  await page.getByRole('button', { name: 'House figures' }).click()
  await expect(page.getByText('(house)').first()).toBeVisible()
  // A damaged piece: its trials prove nothing from now on.
  await page.getByRole('button', { name: 'Board', exact: true }).click()
  await slot(page, 'display in PINE').focus()
  await page.keyboard.press('k')
  const panel = page.getByRole('form', { name: 'Done between trials' })
  await panel.getByLabel('What happened').fill('panel blotched by heat')
  await panel.getByRole('button', { name: 'Record it' }).click()
  await expect(page.getByRole('region', { name: 'Guards' })).toContainText(
    'The display of AMBER is damaged (panel blotched by heat): trials with it prove nothing.',
  )
  await page.getByRole('button', { name: 'take back' }).click()
  await expect(page.getByRole('region', { name: 'Guards' })).toHaveCount(0)
  await clean(page)
})

test('swap tests are read on a small screen and by who may not write', async ({ page }) => {
  await signIn(page, 'technician')
  const s = await study(page, demo)
  await page.setViewportSize({ width: 390, height: 844 })
  for (const face of ['board', 'known', 'account']) {
    await page.goto(`/studies/${s.id}/swap?face=${face}`)
    await expect(answer(page)).toContainText('checks settled')
    for (const b of [/^Start:/, /Record a trial/, /Done between trials/, 'take back', 'Look for it'])
      await expect(page.getByRole('button', { name: b })).toHaveCount(0)
    await fits(page)
  }
  await expect(page.getByRole('heading', { name: /^Shown on build/ })).toBeVisible()
  await page.goto(`/studies/${s.id}/swap`)
  await slot(page, 'battery in PINE').focus()
  await page.keyboard.press('m') // the key does nothing for a reader
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('.slots .cell:focus')).toHaveCount(1)
  await expect(slot(page, 'battery in PINE: PINE its own')).toBeVisible()
  const refused = await page.request.post(`/api/studies/${s.id}/swap-acts`, {
    headers: headers(),
    data: { id: crypto.randomUUID(), kind: 'restart' },
  })
  expect(refused.status()).toBe(403)
})

test('a dry run to its score, and the advised sequence beside it', async ({ page }) => {
  await signIn(page, 'technician')
  await page.goto('/dry-runs')
  await page.getByLabel('one lock').check()
  await page.getByLabel('Seed, to repeat or share a case').fill('11')
  await page.getByRole('button', { name: 'Start' }).click()
  await expect(answer(page)).toContainText('nothing was read yet')
  await clean(page)
  const readings = page.getByRole('listitem').filter({ hasText: / board: / })
  const read = async (key: string) => {
    const before = await readings.count()
    await page.keyboard.press(key)
    await expect(readings).toHaveCount(before + 1)
    return (await readings.first().textContent()) ?? ''
  }
  await page.getByRole('button', { name: /Exchange the boards/ }).click()
  const all = await read('1')
  const check = /lost: ([a-z-]+)/.exec(all)?.[1]
  expect(check, all).toBeTruthy()
  const slots = await page.getByRole('region', { name: 'Parts' }).getByRole('checkbox').count()
  let culprit = ''
  for (let i = 0; i < slots && !culprit; i++) {
    await page.getByRole('button', { name: 'Originals back' }).click()
    const box = page.getByRole('region', { name: 'Parts' }).getByRole('checkbox').nth(i)
    await box.check()
    const text = await read('1')
    if (text.includes('lost:')) culprit = /exchanged: ([a-z ]+?)\s+minute/.exec(text)?.[1] ?? ''
  }
  expect(culprit).toBeTruthy()
  await read('2') // the same on the other board
  await page.getByRole('button', { name: 'Originals back' }).click()
  await read('1')
  for (const box of await page.getByRole('combobox', { name: /^What loses/ }).all()) {
    const mine = (await box.getAttribute('aria-label')) === `What loses ${check}`
    await box.selectOption(mine ? `${culprit}:stranger` : 'none')
    await expect(box).toHaveValue(mine ? `${culprit}:stranger` : 'none')
  }
  await expect(answer(page)).toContainText('8 of 8 verdicts committed')
  await page.getByRole('button', { name: 'End, and see the truth' }).click()
  await expect(answer(page)).toContainText(' 0 wrong')
  await expect(
    page.getByRole('row', {
      name: new RegExp(`^${check} ${culprit} ${culprit} right`),
    }),
  ).toBeVisible()
  await expect(
    page.getByRole('heading', {
      name: /The advised sequence on the same phones/,
    }),
  ).toBeVisible()
  await clean(page)
  for (const size of [{ width: 390, height: 844 }]) {
    await page.setViewportSize(size)
    await fits(page)
    await clean(page)
  }
  await page.goto('/dry-runs')
  await expect(answer(page)).toContainText('Last time:')
})

test('a board exchange with twelve losses of forty-six is written down in sixteen keys', async ({ page }) => {
  await signIn(page)
  const s = await study(page, demo)
  const room = await (await page.request.get(`/api/studies/${s.id}/swap`)).json()
  const units = room.units as { id: string }[]
  const moves = [0, 1].map((i) => ({
    part_id: room.board.board_part_id,
    origin: 'unit',
    unit_id: units[i]!.id,
    to_unit_id: units[1 - i]!.id,
  }))
  const moved = await page.request.post(`/api/studies/${s.id}/swap-acts`, {
    headers: headers(),
    data: { id: crypto.randomUUID(), kind: 'move', moves },
  })
  expect(moved.status(), await moved.text()).toBe(201)
  await page.goto(`/studies/${s.id}/swap`)
  await expect(page.getByText(/board in AMBER housing: /).first()).toBeVisible()
  let keys = 0
  const press = async (key: string, times = 1) => {
    for (let i = 0; i < times; i++, keys++) await page.keyboard.press(key)
  }
  await press('n')
  const form = page.getByRole('form', { name: 'A trial, board first' })
  await expect(form.locator('[data-check="0"] button')).toBeFocused()
  await press('l', 12)
  await press('a', 2)
  await press('r')
  await expect(form).toHaveCount(0)
  expect(keys).toBe(16)
  const after = await (await page.request.get(`/api/studies/${s.id}/swap`)).json()
  const results = Object.values(after.trials.at(-1).results as Record<string, string>)
  expect(results.length).toBe(46)
  expect(results.filter((r) => r === 'lost').length).toBe(12)
  expect(after.trials.at(-1).assumed ?? []).toEqual([])
})

test('trials of a long study come page by page, and an old one opens by its address', async ({ page }) => {
  await signIn(page)
  const id = await smallStudy(page, 'Skerry 130')
  const room = await (await page.request.get(`/api/studies/${id}/swap`)).json()
  const [pine, amber] = room.units as { id: string }[]
  const battery = room.slots.find((p: { name: string }) => p.name === 'battery')
  let first = ''
  for (let i = 1; i <= 130; i++) {
    const trial = {
      id: crypto.randomUUID(),
      board_unit_id: pine!.id,
      housing_unit_id: pine!.id,
      pieces: i % 2 ? [{ part_id: battery.id, origin: 'unit', unit_id: amber!.id }] : [],
      results: { touch: 'pass' },
      note: `reading ${i}`,
    }
    first ||= trial.id
    const sent = await page.request.post(`/api/studies/${id}/trials`, {
      headers: headers(),
      data: trial,
    })
    expect(sent.status(), await sent.text()).toBe(201)
  }
  const trials = page.locator('li.trial')
  await page.goto(`/studies/${id}/swap`)
  await expect(trials).toHaveCount(60)
  await page.getByRole('button', { name: '70 older ones' }).click()
  await expect(trials).toHaveCount(130)
  await expect(trials.last()).toContainText('reading 1')
  await expect(page.getByRole('button', { name: /older ones/ })).toBeHidden()
  await page.goto(`/studies/${id}/swap?trial=${first}`)
  await expect(page.getByRole('form', { name: 'Trial t1' })).toBeVisible()
})
