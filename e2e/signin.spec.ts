import { answer, clean, expect, fits, signIn, test } from './bench'

test('one click signs a demo person in, and out again', async ({ page }) => {
  await page.goto('/')
  await expect(answer(page)).toHaveText('How sure are we?')
  await clean(page)
  await page.getByRole('button', { name: 'Dockside technician' }).click()
  await expect(answer(page)).toContainText(/^Next: (Battery job|HERON: prepare)/)
  await expect(page.getByText('Dockside technician')).toBeVisible()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
})

test.describe('refused', () => {
  test.use({ refusals: [/401|403|422/] })

  test('a wrong password is refused in plain words, and what was typed stays', async ({ page }) => {
    await page.goto('/')
    await page.getByLabel('Name').fill('analyst')
    await page.getByLabel('Password').fill('guess')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('alert')).toContainText('Name or password is wrong')
    await expect(page.getByLabel('Name')).toHaveValue('analyst')
    await page.getByLabel('Password').fill('demo-analyst')
    await page.keyboard.press('Enter')
    await expect(answer(page)).toContainText('Drift 4 waits')
  })

  test('somebody who is not signed in gets the door, whatever the address', async ({ page }) => {
    for (const path of ['/studies/01980000-0000-7000-8000-000000000000/strip', '/models/x/ways']) {
      await page.goto(path)
      await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
    }
  })

  test('a reader sees everything and can write nothing', async ({ page }) => {
    await signIn(page, 'buyer')
    const list = await (await page.request.get('/api/studies')).json()
    const { study, model } = list.find((c: { units: unknown[] }) => c.units.length)
    await page.goto('/')
    await expect(page.getByRole('heading', { name: 'Parts that run out' })).toBeVisible()
    for (const label of ['New study', 'Delete Drift 4, first pair'])
      await expect(page.getByRole('button', { name: label })).toHaveCount(0)
    const rooms = {
      intake: ['Record a phone', 'Change PINE', 'Assume the rest'],
      strip: ['A new step', 'Add a part', 'Undo my last on PINE'],
      swap: ['Record a trial', 'Start: Exchange', 'Change t1'],
      closeup: ['is back', 'It is closed'],
    }
    for (const [room, buttons] of Object.entries(rooms)) {
      await page.goto(`/studies/${study.id}/${room}`)
      await expect(answer(page)).not.toContainText('Reading')
      for (const b of buttons) await expect(page.getByRole('button', { name: b })).toHaveCount(0)
    }
    await page.goto(`/studies/${study.id}/intake`)
    await expect(page.getByRole('button', { name: 'PINE, Ambient colour: pass' })).toBeDisabled()
    await page.goto(`/studies/${study.id}/strip`)
    await page.keyboard.press('1') // the key of a tile does nothing either
    const refused = await page.request.post(`/api/models/${model.id}/parts`, {
      headers: { 'Idempotency-Key': '01980000-0000-7000-8000-000000000001' },
      data: {
        id: '01980000-0000-7000-8000-000000000002',
        name: 'x',
        family: 'PW',
      },
    })
    expect(refused.status()).toBe(403)
    expect((await refused.json()).detail).toContain('As buyer you may read this, but not write models')
  })
})

test('the night theme is kept and stays readable', async ({ page }) => {
  await signIn(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'Night' }).click()
  await page.reload()
  await expect(page.getByRole('button', { name: 'Day' })).toBeVisible()
  await clean(page)
  await fits(page)
})

test('the keys are listed on ?, and an unknown address says so', async ({ page }) => {
  await signIn(page)
  await page.goto('/nothing/here')
  await expect(answer(page)).toHaveText('Nothing lives at this address.')
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('the other phone')
  await clean(page)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
})
