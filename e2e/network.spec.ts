import { answer, expect, refusal, signIn, study, test } from './bench'

test.use({ refusals: [/ERR_INTERNET_DISCONNECTED|ERR_FAILED|503/] })

const demo = 'Drift 4, first pair'

test('a short outage is waited out: the entry is made once, and the brow says that it waits', async ({
  page,
  context,
}) => {
  await signIn(page)
  const s = await study(page, demo)
  await page.goto(`/studies/${s.id}/strip`)
  const rows = page.getByRole('region', { name: 'Log' }).getByRole('row')
  await expect(answer(page)).toContainText('PINE')
  const before = await rows.count()
  await context.setOffline(true)
  await page.keyboard.press('1')
  await expect(page.getByText('offline, 1 unsent')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('all saved')).toBeVisible()
  await expect(rows).toHaveCount(before + 1)
  await page.keyboard.press('u')
  await expect(rows).toHaveCount(before)
})

test('a long outage is said in plain words, the form keeps what was typed, and sending it again is safe', async ({
  page,
  context,
}) => {
  await signIn(page)
  const s = await study(page, demo)
  await page.goto(`/studies/${s.id}/intake`)
  await page.getByRole('button', { name: 'Record a phone' }).click()
  const form = page.getByRole('dialog', { name: 'Record a phone' })
  await form.getByLabel('Name on the sticker').fill('SLATE')
  await context.setOffline(true)
  await form.getByRole('button', { name: 'Record', exact: true }).click()
  await expect(refusal(form)).toContainText('The server does not answer. What you entered is still here')
  await expect(form.getByLabel('Name on the sticker')).toHaveValue('SLATE')
  await context.setOffline(false)
  await form.getByRole('button', { name: 'Record', exact: true }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Change SLATE' })).toHaveCount(1)
})

test('an answer that got lost on its way does not double the change', async ({ page }) => {
  await signIn(page)
  const s = await study(page, demo)
  await page.goto(`/studies/${s.id}/intake`)
  // The server makes the change, but every answer is lost until the form gives up.
  let lost = 0
  await page.route('**/api/studies/*/units', async (route) => {
    if (lost >= 4) return route.continue()
    lost++
    await route.fetch()
    await route.abort('failed')
  })
  await page.getByRole('button', { name: 'Record a phone' }).click()
  const form = page.getByRole('dialog', { name: 'Record a phone' })
  await form.getByLabel('Name on the sticker').fill('HEATHER')
  await form.getByRole('button', { name: 'Record', exact: true }).click()
  await expect(refusal(form)).toContainText('The server does not answer')
  expect(lost).toBe(4)
  await form.getByRole('button', { name: 'Record', exact: true }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Change HEATHER' })).toHaveCount(1)
})

test('a server that is busy is asked again by itself', async ({ page }) => {
  await signIn(page)
  const s = await study(page, demo)
  let refused = 0
  await page.route('**/api/units/*/baseline/*', async (route) => {
    if (refused++ > 1) return route.continue()
    await route.fulfill({
      status: 503,
      contentType: 'application/problem+json',
      body: '{"title":"Busy","status":503,"detail":"Two changes met."}',
    })
  })
  await page.goto(`/studies/${s.id}/intake`)
  await page.getByRole('button', { name: /^PINE, Flash lamp/ }).focus()
  await page.keyboard.press('w')
  await expect(page.getByRole('button', { name: 'PINE, Flash lamp: weak' })).toBeVisible()
  await expect(page.getByText('all saved')).toBeVisible()
  expect(refused).toBe(3)
  await page.reload()
  await expect(page.getByRole('button', { name: 'PINE, Flash lamp: weak' })).toBeVisible()
})
