import { answer, choose, clean, expect, home, signIn, test } from './bench'

test('a part is found by name, alias, label and connector code', async ({ page }) => {
  await signIn(page, 'technician')
  await home(page)
  const found = page.locator('#found')
  for (const [typed, says] of [
    ['drift 4 battery', 'battery'],
    ['PB-4417', 'battery'],
    ['D4-02', 'sensor strip'],
    ['lower speaker', 'loudspeaker'],
    ['<script>alert(1)</script>', 'Nothing on record'],
  ]) {
    await page.locator('#find').fill(typed!)
    await expect(found).toContainText(says!)
    if (typed === 'D4-02') await expect(found.getByRole('option').first()).toContainText('sensor strip')
  }
  await clean(page)
})

test('the job card answers whether to take the job, and how it went before', async ({ page }) => {
  await signIn(page, 'technician')
  await home(page)
  await page.keyboard.type('PB-4417')
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText(
    'Drift 4, battery: whole repair 39 min. Tell the customer: lost: Battery health shown',
  )
  await expect(page.getByText('Ask first')).toBeVisible()
  const losses = page.locator('#losses')
  await expect(losses).toContainText('Battery health shown')
  await expect(losses).toContainText('lost in 4 of 4 tries: too few to say')
  await expect(page.getByText('A lithium battery burns when pierced')).toBeVisible()
  await expect(page.getByText('licensed practice decide')).toBeVisible()
  await clean(page)
  await page.getByText('notes', { exact: true }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Dockside technician' }).first()).toBeVisible()
  await page.getByRole('link', { name: 'all ways of this model' }).click()
  await expect(answer(page)).toContainText('Battery: 13 steps')
})

test('another part is chosen on the map, by mouse and by key', async ({ page }) => {
  await signIn(page, 'buyer')
  await home(page)
  await page.keyboard.type('PB-4417')
  await page.getByRole('option', { name: /battery/ }).click()
  await page.getByRole('button', { name: /^loudspeaker/ }).click()
  await expect(answer(page)).toContainText('Drift 4, loudspeaker')
  await page.getByRole('button', { name: /^charge port/ }).focus()
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText('Drift 4, charge port')
  await expect(page.getByText('no result yet', { exact: false })).toBeVisible()
})

test('a deleted study comes back on undo', async ({ page }) => {
  await signIn(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'New study' }).click()
  const dialog = page.getByRole('dialog', { name: 'New study' })
  await choose(page, dialog, 'Model', 'Corvane Atoll 2')
  await dialog.getByLabel('Title of the study').fill('To be taken back')
  await clean(page)
  await dialog.getByRole('button', { name: 'Open the study' }).click()
  await expect(answer(page)).toContainText('Do not open yet: 0 of 2 units recorded')
  await page.goto('/')
  await page.getByRole('button', { name: '× Delete To be taken back' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'is deleted' })).toBeVisible()
  await expect(page.getByRole('rowheader', { name: /To be taken back/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('rowheader', { name: /To be taken back/ })).toBeVisible()
  await page.getByRole('button', { name: '× Delete To be taken back' }).click()
  await expect(page.getByRole('rowheader', { name: /To be taken back/ })).toHaveCount(0)
})
