import { answer, choose, expect, signIn, study, test } from './bench'

test('look', async ({ page }) => {
  const shot = async (n: string, full = false) => {
    await page.evaluate(() => document.fonts.ready)
    await page.waitForTimeout(500)
    await page.screenshot({ path: `/tmp/look/${n}.png`, fullPage: full })
  }
  await page.setViewportSize({ width: 1280, height: 800 })
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/studies/${s.id}/swap`)
  await expect(answer(page)).toContainText('checks settled')
  await page
    .getByRole('button', { name: /^Start: Exchange only/ })
    .first()
    .click()
  await expect(page.getByRole('form', { name: 'A trial, board first' })).toBeVisible()
  await page.keyboard.type('ll')
  await shot('trial-full', true)
  await page.keyboard.press('a')
  await shot('trial')
  await page.goto(`/studies/${s.id}/swap?face=known`)
  await expect(answer(page)).toContainText('checks settled')
  await shot('known', true)
  await page.goto(`/studies/${s.id}/swap?face=sick`)
  await page.getByLabel('Symptom', { exact: true }).fill('picture flickers when warm')
  await page.getByRole('button', { name: 'Look for it' }).click()
  await page.getByRole('button', { name: 'as it is: still there' }).click()
  await expect(page.getByText(/try next/)).toBeVisible()
  await shot('sick')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(
    `/studies/${s.id}/swap?trial=new&phone=${(await (await page.request.get(`/api/studies/${s.id}/swap`)).json()).units[0].id}`,
  )
  await expect(page.getByRole('form', { name: 'A trial, board first' })).toBeVisible()
  await shot('trial-phone')
})
