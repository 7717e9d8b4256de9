import { readFileSync } from 'node:fs'

import { expect as says, test as plain } from '@playwright/test'

import { answer, clean, expect, fits, signIn, study, test } from './bench'
import { headers, smallStudy } from './lab'
import { World } from './world'

/** Accounts, one-time links, one's own sign-ins, and who did what. */

test('an account is made, opened by its link, seen on the trail and disabled', async ({ page, browser }) => {
  const name = `tern-${Date.now() % 100000}`
  await signIn(page, 'admin')
  await page.goto('/')
  await page.getByRole('link', { name: 'Accounts' }).click()
  await expect(answer(page)).toContainText('accounts are open')
  await page.getByRole('button', { name: 'New account' }).click()
  await page.getByLabel('Name to sign in with').fill(name)
  await page.getByLabel('Name that others see').fill('Second bench')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'A one-time link for Second bench' })).toBeVisible()
  const url = new URL((await page.locator('.url').textContent())!.trim())
  await clean(page)

  // On another device: a weak password is refused with its reason, two that differ too, a good one signs in.
  const other = await browser.newContext({ baseURL: new URL(page.url()).origin })
  const phone = await other.newPage()
  await phone.setViewportSize({ width: 390, height: 844 })
  await phone.goto(url.pathname)
  await expect(phone.getByRole('heading', { level: 1 })).toHaveText(`A new password for ${name}.`)
  await phone.getByLabel('Password').fill('password1')
  await phone.getByLabel('Once more').fill('password2')
  await phone.getByRole('button', { name: 'Set it and sign in' }).click()
  await expect(phone.getByText('the same password once more')).toBeVisible()
  await phone.getByLabel('Once more').fill('password1')
  await phone.getByRole('button', { name: 'Set it and sign in' }).click()
  await expect(phone.getByText(/million tries/).first()).toBeVisible()
  await fits(phone)
  await phone.getByLabel('Password').fill('six slow eiders inland')
  await phone.getByLabel('Once more').fill('six slow eiders inland')
  await phone.getByRole('button', { name: 'Set it and sign in' }).click()
  await expect(phone.getByRole('searchbox').or(phone.locator('#find'))).toBeVisible()
  await phone.goto(url.pathname)
  await expect(phone.getByRole('alert')).toContainText('This link was used')
  await phone.goto('/me')
  await expect(phone.getByText('this one')).toBeVisible()
  await fits(phone)

  // The office sees it, ends it, and the trail says who did it.
  await page.getByRole('button', { name: 'Done' }).click()
  await page.reload()
  const row = page.getByRole('row', { name: new RegExp(name) })
  await row.getByRole('button', { name: /open/ }).click()
  await page
    .getByRole('button', { name: /End the sign-in/ })
    .first()
    .click()
  await expect(page.getByText('No open sign-in.')).toBeVisible()
  await phone.goto('/')
  await expect(phone.getByRole('button', { name: 'Sign in' })).toBeVisible()
  await row.getByRole('button', { name: 'Change Second bench' }).click()
  await page.getByText('disabled: may not sign in').click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(row).toContainText('disabled')
  await page.getByRole('link', { name: 'Who did what' }).click()
  await page.getByRole('button', { name: 'All changes of this account' }).first().click()
  await expect(page.getByRole('row').nth(1)).toContainText('changed account')
  await expect(page.getByRole('row').nth(1)).toContainText('disabled')
  await clean(page)
  await page.setViewportSize({ width: 390, height: 844 })
  await fits(page)
  await other.close()
})

test('the last administrator cannot give the office up, and others see none of it', async ({ page, refusals }) => {
  refusals.push(/422/, /403/)
  await signIn(page, 'admin')
  await page.goto('/accounts')
  await page.getByRole('button', { name: 'Change Workshop office' }).click()
  await page.getByText('disabled: may not sign in').click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/this is the last one/).first()).toBeVisible()
  await page.goto('about:blank') // what is on its way must not meet the change of person
  await signIn(page, 'technician')
  await page.goto('/accounts')
  await expect(page.getByRole('alert')).toContainText('you may read this, but not read people')
  await page.goto('/trail')
  await expect(page.getByRole('alert')).toContainText('not read trail')
})

plain('a first start without the demo, as the operations guide says', async ({ page }) => {
  const guide = readFileSync('../docs/operations.md', 'utf8').replace(/\s+/g, ' ')
  for (const said of ['./bin/waryowl serve', 'make the first administrator at', 'Set it and sign in', 'New account'])
    says(guide, said).toContain(said)
  const world = new World()
  try {
    const link = await world.first()
    await page.goto(link)
    await says(answer(page)).toHaveText('Nobody has an account yet. Make the first administrator.')
    await page.getByLabel('Name to sign in with').fill('office')
    await page.getByLabel('Password').fill('three blue gannets abroad')
    await page.getByLabel('Once more').fill('three blue gannets abroad')
    await page.getByRole('button', { name: 'Set it and sign in' }).click()
    await says(page.getByRole('link', { name: 'Accounts' })).toBeVisible()
    await page.getByRole('link', { name: 'Accounts' }).click()
    await says(answer(page)).toHaveText('1 of 1 accounts are open.')
    await page.getByRole('button', { name: 'New account' }).click()
    await page.getByLabel('Name to sign in with').fill('bench')
    await page.keyboard.press('Enter')
    await page.goto((await page.locator('.url').textContent())!.trim())
    await page.getByLabel('Password').fill('four dry puffins inside')
    await page.getByLabel('Once more').fill('four dry puffins inside')
    await page.getByRole('button', { name: 'Set it and sign in' }).click()
    await says(page.getByRole('link', { name: 'bench', exact: true })).toBeVisible()
  } finally {
    await world.close()
  }
})

test('what somebody deleted long ago is brought back from the trail', async ({ page }) => {
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  const log = (await (await page.request.get(`/api/studies/${s.id}/strip`)).json()).log
  const last = log[log.length - 1]
  const gone = await page.request.delete(`/api/log/${last.id}?version=${last.version}`, { headers: headers() })
  expect(gone.status(), await gone.text()).toBe(200)
  await page.goto(`/trail?study=${s.id}`)
  await page.getByRole('button', { name: /^Bring back: log entry/ }).click()
  await expect(page.getByRole('button', { name: /^Bring back/ })).toHaveCount(0)
  await expect(page.getByRole('row').nth(1)).toContainText('brought back log entry')
  const after = (await (await page.request.get(`/api/studies/${s.id}/strip`)).json()).log
  expect(after.map((e: { id: string }) => e.id)).toContain(last.id)
})

test('another’s work is changed by analysts only, and its author is told', async ({ page }) => {
  await signIn(page, 'technician')
  const { model } = await study(page, 'Drift 4, first pair')
  const said = { id: crypto.randomUUID(), fact: 'manual', choice: 'none', by: 'me' }
  const made = await page.request.post(`/api/models/${model}/facts`, { data: said, headers: headers() })
  expect(made.status()).toBe(201)
  const change = { version: 1, fact: 'manual', choice: 'public-free', by: 'me' }
  const put = () => page.request.put(`/api/facts/${said.id}`, { data: change, headers: headers() })
  await signIn(page, 'buyer')
  const refused = await put()
  expect(refused.status()).toBe(403)
  expect(await refused.text()).toContain('they or an analyst can change it')
  await signIn(page, 'analyst')
  expect((await put()).status()).toBe(200)
  await signIn(page, 'technician')
  await page.goto('/')
  await page.getByRole('link', { name: /1 changed by others/ }).click()
  await expect(page.getByRole('heading', { name: 'What others changed in your work: 1 new' })).toBeVisible()
  await expect(page.locator('#told')).toContainText('changed saying of a fact manual')
  await clean(page)
  await page.getByRole('button', { name: 'I have seen it' }).click()
  await expect(page.getByRole('link', { name: /changed by others/ })).toHaveCount(0)
  await page.setViewportSize({ width: 390, height: 844 })
  await fits(page)
})

test('a token is made, shown once, used by a program, seen in the trail, and revoked', async ({
  page,
  playwright,
  baseURL,
}) => {
  await signIn(page)
  await page.goto('/me')
  const tokens = page.locator('#tokens')
  await tokens.getByLabel('The program that uses it').fill('label printer')
  await tokens.getByText('It only reads').click()
  await tokens.getByRole('button', { name: 'Make a token' }).click()
  const token = (await tokens.locator('code').textContent())!.trim()
  expect(token).toMatch(/^wo_[0-9a-f]{48}$/)
  await tokens.getByRole('button', { name: 'I have it' }).click()
  await expect(tokens).not.toContainText(token)
  await clean(page)
  const program = await playwright.request.newContext({
    baseURL,
    extraHTTPHeaders: { authorization: `Bearer ${token}` },
  })
  const name = `Drift ${Date.now()}`
  await page.goto('/')
  const listed = async () => (await page.request.get(`/api/models?q=${name}`)).json()
  expect(await listed()).toHaveLength(0)
  const sent = await program.post('/api/models', {
    headers: { 'Idempotency-Key': crypto.randomUUID() },
    data: { id: crypto.randomUUID(), maker: 'Pellow', name, entry: 'back' },
  })
  expect(sent.status(), await sent.text()).toBe(201)
  expect(await listed()).toHaveLength(1)
  await page.goto('/trail')
  await expect(page.locator('main')).toContainText('by “label printer”')
  await page.goto('/me')
  await expect(tokens.getByRole('row', { name: /label printer/ })).not.toContainText('never')
  await tokens
    .getByRole('row', { name: /label printer/ })
    .getByRole('button', { name: 'Revoke' })
    .click()
  await expect(tokens.getByRole('row', { name: /label printer/ })).toContainText('revoked')
  expect((await program.get('/api/models')).status()).toBe(401)
  await program.dispose()
})

test('what others change shows by itself', async ({ page, browser, baseURL }) => {
  await signIn(page)
  await page.goto('/')
  const other = await browser.newContext({ baseURL })
  const theirs = await other.newPage()
  await signIn(theirs)
  const id = await smallStudy(theirs, `Atoll ${Date.now()}`)
  const listening = page.waitForResponse((r) => r.url().endsWith('/api/events'))
  await page.goto(`/studies/${id}/strip`)
  await listening
  await expect(page.locator('#log')).toBeVisible()
  const { units } = await (await theirs.request.get(`/api/studies/${id}/strip`)).json()
  const sent = await theirs.request.post(`/api/studies/${id}/log`, {
    headers: headers(),
    data: { id: crypto.randomUUID(), unit_id: units[0].id, line: '? seen by somebody else' },
  })
  expect(sent.status(), await sent.text()).toBe(201)
  await expect(page.locator('#log')).toContainText('seen by somebody else')
  await other.close()
})
