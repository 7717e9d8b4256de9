import { readFileSync } from 'node:fs'

import { answer, expect, home, signIn, study, test } from './bench'

/** The guide is walked as it is written: its keys lead where it says, and its lines are read as they stand there. */
const guide = readFileSync('../docs/guide/first-study.md', 'utf8')
const stations = [...guide.matchAll(/^\d\. \*\*(.+?)\*\* \(`(.+?)`\)/gm)].map((m) => ({ name: m[1]!, keys: m[2]! }))
const rows = [...guide.matchAll(/^ +\| (`.+`.*?) \| /gm)].map((m) => m[1]!)
const lines = rows.flatMap((r) => [...r.matchAll(/`(.+?)`/g)].map((m) => m[1]!))

test('the guide leads from room to room by its keys, and each has an answer', async ({ page }) => {
  expect(stations.map((s) => s.name)).toEqual([
    'Find',
    'Intake',
    'Teardown',
    'Ways in',
    'Swap tests',
    'Close-up',
    'Score',
    'Hand-over',
  ])
  await signIn(page)
  const s = await study(page, 'Drift 4, first pair')
  for (const at of stations) {
    if (at.keys === '/') {
      await home(page)
      await page.keyboard.press('Escape')
      await page.goto(`/studies/${s.id}/handover`)
      await expect(answer(page)).not.toContainText('Reading')
      await page.keyboard.press('/')
      await expect(page.locator('#find')).toBeFocused()
      await page.goto(`/studies/${s.id}/handover`)
      continue
    }
    await expect(answer(page)).not.toContainText('Reading')
    for (const key of at.keys.split(' ')) await page.keyboard.press(key)
    await expect(page.getByRole('navigation', { name: 'Stages of this study' }).locator('a.here')).toContainText(
      at.name,
    )
    await expect(answer(page)).not.toContainText('Reading')
  }
})

test('every line of the guide is read as it stands there', async ({ page }) => {
  expect(lines.length).toBeGreaterThan(20)
  await signIn(page)
  const known = await study(page, 'Drift 4, first pair')
  // A phone of which nothing is out: what is out already is not taken out.
  const [id, unit] = [crypto.randomUUID(), crypto.randomUUID()]
  for (const [path, data] of [
    ['/api/studies', { id, model_id: known.model, title: 'The guide' }],
    [`/api/studies/${id}/units`, { id: unit, name: 'PINE', colour: 'green', shape: 'triangle' }],
  ] as const) {
    const sent = await page.request.post(path, { headers: { 'Idempotency-Key': crypto.randomUUID() }, data })
    expect(sent.status(), await sent.text()).toBe(201)
  }
  await page.goto(`/studies/${id}/strip`)
  const field = page.getByLabel('Bench line of PINE')
  await field.fill('? ready')
  await expect(page.locator('.echo')).toContainText('Note “ready”')
  await field.press('Enter')
  await expect(page.getByText('all saved')).toBeVisible()
  const poor: string[] = []
  for (const text of lines) {
    await field.fill(text)
    await expect(page.locator('.echo .facts li').first()).toBeVisible()
    const unread = await page.locator('.echo mark').allTextContents()
    if (unread.length) poor.push(`${text}: ${unread.join(' ')}`)
  }
  expect(poor).toEqual([])
  // One of each kind is logged, and taken back as the guide says.
  const log = page.getByRole('region', { name: 'Log' }).getByRole('row')
  const before = await log.count()
  await field.fill('? battery sits tight')
  await field.press('Enter')
  await field.press('Escape')
  await expect(log).toHaveCount(before + 1)
  await page.keyboard.press('u')
  await expect(log).toHaveCount(before)
})
