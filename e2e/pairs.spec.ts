import { answer, clean, expect, signIn, test } from './bench'
import { followCard, headers, smallStudy } from './lab'

// The service is not asked here; a refusal is expected nowhere.
test('two parts that are lost only together are found by following the cards, and stand in the sheet', async ({
  page,
}) => {
  await signIn(page)
  const id = await smallStudy(page, 'Skerry 7')
  await page.goto(`/studies/${id}/swap`)
  await expect(answer(page)).toContainText('exchange the main boards first')
  type Module = { part: string; advice: string }
  const advice = async () => {
    const account = await (await page.request.get(`/api/studies/${id}/swap/account`)).json()
    return (account.modules as Module[]).find((m) => m.part === 'battery')!.advice
  }
  let rounds = 0
  for (; rounds < 14 && !(await advice()).includes('not both'); rounds++) {
    // What is hidden: touch is lost where neither the display nor the battery is the board's own.
    await followCard(page, (foreign) => (foreign('display') && foreign('battery') ? ['Touch'] : []))
    await expect(page.getByText(`t${rounds + 1}`, { exact: true }).first()).toBeVisible()
    const account = await (await page.request.get(`/api/studies/${id}/swap/account`)).json()
    for (const m of account.modules as Module[])
      if (m.part !== 'loudspeaker') expect(m.advice, m.part).not.toBe('replace')
  }
  expect(await advice()).toBe('exchange it or the display, not both')
  expect(rounds).toBeLessThanOrEqual(12)
  await page.goto(`/studies/${id}/swap?face=account`)
  await expect(page.getByText(/only together with the (battery|display)/).first()).toBeVisible()
  await clean(page)
  await page.goto(`/studies/${id}/handover`)
  await expect(page.getByText(/together with the (battery|display)/).first()).toBeVisible()
})

test('a dark screen leads through the steps before a board is called dead, with a clock, and a deleted trial takes its moves back', async ({
  page,
}) => {
  await signIn(page)
  const id = await smallStudy(page, 'Skerry 8')
  await page.goto(`/studies/${id}/swap`)
  const next = page.locator('#next')
  await expect(next.getByRole('listitem').first()).toBeVisible()
  await page.keyboard.press('Enter')
  const form = page.getByRole('form', { name: 'A trial, board first' })
  await expect(form).toBeVisible()
  await form.getByRole('checkbox', { name: /The screen showed nothing/ }).check()
  await form.getByRole('button', { name: /^Touch, corners/ }).focus()
  await page.keyboard.type('l')
  await page.getByRole('button', { name: 'Record the trial' }).click()
  await expect(form).toHaveCount(0)
  // The charger comes first; its clock goes on over a reload.
  const card = next.getByRole('listitem').filter({ hasText: 'does not start' })
  await expect(card.first()).toContainText('Connect a charger')
  await card.first().getByRole('button', { name: 'Start 15 min' }).click()
  await expect(card.first().getByRole('timer')).toContainText(/14:5|15:00/)
  await page.reload()
  await expect(card.first().getByRole('timer')).toContainText(/14:[0-5]/)
  for (const step of [
    'Leave it on the charger',
    'Unplug its battery lead first',
    'Seat the same connectors',
    'Try a display',
  ]) {
    await card.first().getByRole('button', { name: 'Still nothing' }).click()
    await expect(card.first()).toContainText(step)
  }
  await card.first().getByRole('button', { name: 'Still nothing' }).click()
  await expect(card).toHaveCount(0)
  // The trial was the last thing on the bench: what was moved for it goes back with it, and comes back with it.
  const own = page.locator('.slots').getByRole('button', { name: /^main board in PINE: PINE the board itself/ })
  await expect(own).toHaveCount(0)
  await page.getByRole('button', { name: 'Delete t1' }).click()
  await expect(page.getByText(/Trial t1 is deleted, and the \d+ pieces moved for it/)).toBeVisible()
  await expect(own).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(own).toHaveCount(0)
  const room = await (await page.request.get(`/api/studies/${id}/swap`, { headers: headers() })).json()
  expect(room.trials.length).toBe(1)
  expect(room.trials[0].dead_gate.length).toBe(5)
  await clean(page)
})
