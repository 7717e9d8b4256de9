import { answer, clean, expect, fits, signIn, tabTo, test } from './bench'

/** The bench day: planned, disturbed by a long soak and by a further job, replanned, printed, by keyboard. */

const date = () => new Date().toLocaleDateString('sv')

test('a day is planned, followed, disturbed and printed', async ({ page }) => {
  await signIn(page)
  const day = `${new Date().getFullYear() + 1}-03-09` // a day that is nobody else's
  await page.goto(`/day?date=${day}`)
  await expect(answer(page)).toHaveText('No job is on this day yet.')
  for (const [title, text] of [
    ['AMBER', 'heat 5-8 plate; open 5 hands within 60; cure 15-20 clamp; check 5 hands'],
    ['PINE', 'heat 5-8 plate; open 5 hands within 60; check 5 hands'],
  ]) {
    await tabTo(page, page.getByRole('button', { name: 'Add a job' }))
    await page.keyboard.press('Enter')
    await page.getByLabel('What stands on its tray').fill(title)
    await page.getByLabel(/Or its operations/).fill(text)
    await page.getByLabel('Due at').fill('7')
    await page.keyboard.press('Enter')
    await expect(page.getByText('a time after opening, such as 14:30')).toBeVisible()
    await page.getByLabel('Due at').fill('12:30')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('dialog')).toBeHidden()
    await expect(page.getByRole('rowheader', { name: title, exact: true }).first()).toBeVisible()
  }
  await expect(answer(page)).toContainText('All 2 jobs closed by')
  await expect(answer(page)).toContainText('The plate collides')
  await clean(page)

  // The first heat starts; a third job comes; all is planned anew around what runs.
  const next = page.locator('#next').getByRole('button').first()
  const first = (await next.textContent())!.trim()
  await tabTo(page, next)
  await page.keyboard.press('Enter')
  const name = /Start (\w+) (.*)/.exec(first)!
  await expect(page.getByRole('button', { name: `End: ${name[1]} ${name[2]}` })).toBeVisible()
  await page.getByRole('button', { name: 'Add a job' }).click()
  await page.getByLabel('What stands on its tray').fill('SLATE')
  await page.getByLabel(/Or its operations/).fill('open 600 hands')
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(answer(page)).toContainText('Late: ')
  await expect(page.getByRole('heading', { name: 'What could wait' })).toBeVisible()
  await expect(page.getByText(/Without SLATE: /)).toBeVisible()
  await page.getByRole('button', { name: 'Take SLATE off this day' }).click()
  await expect(answer(page)).toContainText('All 2 jobs closed by')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(answer(page)).toContainText('Late: ')
  await page.getByRole('button', { name: 'Take SLATE off this day' }).click()
  await expect(answer(page)).toContainText('All 2 jobs closed by')
  await page.getByRole('button', { name: `Take back: ${name[1]} ${name[2]}` }).click()
  await expect(page.getByRole('button', { name: `Start: ${name[1]} ${name[2]}` })).toBeVisible()

  // The calendar file and the print for the wall.
  const file = await page.request.get(`/api/days/${day}/calendar?offset=0`)
  expect(file.headers()['content-type']).toContain('text/calendar')
  expect(await file.text()).toContain('SUMMARY:AMBER: open')
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('button', { name: 'Add a job' })).toBeHidden()
  await expect(page.getByText(day, { exact: true })).toBeVisible()
  await page.emulateMedia({ media: 'screen' })

  await page.setViewportSize({ width: 390, height: 844 })
  await fits(page)
})

test('what the swap lab would test in the time left stands beside the jobs', async ({ page }) => {
  await signIn(page, 'technician')
  await page.goto('/day')
  const later = page.getByRole('button', { name: /The next day with jobs/ })
  await expect(later.or(page.locator('#jobs'))).toBeVisible()
  if (await later.isVisible()) await later.click()
  const tests = page.locator('#settling')
  await expect(tests.getByRole('listitem').first()).toContainText(/AMBER .* min/)
  await tests.getByRole('link', { name: 'AMBER' }).first().click()
  await expect(page).toHaveURL(/\/swap/)
})

test('hands and machines are set by the office, and read by everybody', async ({ page }) => {
  await signIn(page, 'buyer')
  await page.goto(`/day?date=${date()}`)
  await page.getByRole('button', { name: 'Hands and machines' }).click()
  await expect(page.getByRole('textbox', { name: 'Person 1' })).toHaveValue('bench 1')
  await page.getByRole('button', { name: 'One more machine' }).click()
  await page.getByRole('textbox', { name: 'Machine 4' }).fill('oven')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.getByRole('button', { name: 'Hands and machines' }).click()
  await expect(page.getByRole('textbox', { name: 'Machine 4' })).toHaveValue('oven')
  await page.getByRole('button', { name: 'Take out machine 4' }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await signIn(page, 'technician')
  await page.goto(`/day?date=${date()}`)
  await expect(answer(page)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Hands and machines' })).toHaveCount(0)
})
