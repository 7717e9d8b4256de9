import type { Page } from '@playwright/test'

import { answer, expect, signIn, test } from './bench'

/** A study of a model of which nothing is on record, with one phone. */
async function small(page: Page, name: string) {
  const [model, id, unit] = [1, 2, 3].map(() => crypto.randomUUID())
  const post = async (path: string, data: object) => {
    const reply = await page.request.post(path, { headers: { 'Idempotency-Key': crypto.randomUUID() }, data })
    expect(reply.ok(), await reply.text()).toBe(true)
  }
  await post('/api/models', { id: model, maker: 'Pellow', name, entry: 'front', width_mm: 70, height_mm: 150 })
  await post('/api/studies', { id, model_id: model, title: `${name}, one phone` })
  await post(`/api/studies/${id}/units`, { id: unit, name: 'PINE', colour: 'green', shape: 'triangle' })
  return { id: id! }
}

test.use({ refusals: [/ERR_INTERNET_DISCONNECTED/] })

/** A whole teardown in natural words: the line as somebody types it who never read how, and how many facts it makes. */
const lines: [text: string, facts: number][] = [
  ['card tray out', 1],
  ['2 five-lobe bottom', 1],
  ['hot plate front 80C 2min', 1],
  ['again 3 min, gap', 1],
  ['screen up', 1],
  ['upper bracket off, 4 star', 2],
  ['battery unplugged', 1],
  ['display lead off', 1],
  ['front and rear cam unplugged', 2],
  ['lower bracket off, 3 tri', 2],
  ['speaker and haptic out', 2],
  ['earpiece out, 2 cross', 2],
  ['tab 1 out', 1],
  ['tab 2 snapped', 1],
  ['battery out. 2870 mAh', 2],
  ['4 star main board', 1],
  ['no, 5', 1],
  ['main board out', 1],
  ['charge port out, 3 cross', 2],
  ['rust inside, was that us?', 1],
]
const back: [text: string, facts: number][] = [
  ['charge port back, 3 cross', 2],
  ['main board in, 5 star', 2],
  ['battery in', 1],
  ['earpiece back, 2 cross', 2],
  ['speaker and haptic in', 2],
  ['lower bracket on, 3 tri', 2],
  ['front and rear cam plugged', 2],
  ['display plugged', 1],
  ['upper bracket on, 4 star', 2],
  ['no, 3', 1],
  ['tray in', 1],
]

test('a teardown of forty facts in natural words, by keyboard, ten of them without a network', async ({
  page,
  context,
}) => {
  await signIn(page)
  const s = await small(page, 'Drift 41')
  await page.goto(`/studies/${s.id}/strip`)
  const field = page.getByRole('textbox', { name: 'Bench line of PINE' })
  await field.fill('? ready')
  await expect(page.locator('.echo')).toContainText('Note “ready”')
  await field.fill('')
  let keys = 0
  let facts = 0
  const type = async (text: string, n: number, sent = true) => {
    await field.focus()
    await page.keyboard.type(text)
    keys += text.length + 1
    facts += n
    await expect(page.locator('.echo .facts li:not(.bare)')).toHaveCount(n)
    await expect(page.locator('.echo mark')).toHaveCount(0)
    await page.keyboard.press('Enter')
    for (let i = 0; i < 4 && (await page.getByRole('alertdialog').count()); i++) {
      keys++
      await page.keyboard.press('2') // what was stopped was done already
    }
    await expect(field).toHaveValue('')
    if (sent) await expect(page.getByText('all saved')).toBeVisible()
  }
  for (const [text, n] of lines) await type(text, n)
  await context.setOffline(true)
  for (const [text, n] of back.slice(0, 5)) await type(text, n, false)
  await expect(page.getByText('offline, 5 unsent')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('all saved')).toBeVisible({ timeout: 60_000 })
  for (const [text, n] of back.slice(5)) await type(text, n)
  expect(facts).toBeGreaterThanOrEqual(40)
  expect(keys / facts).toBeLessThanOrEqual(19)
  test.info().annotations.push({ type: 'keys a fact', description: (keys / facts).toFixed(1) })

  const room = await (await page.request.get(`/api/studies/${s.id}/strip`)).json()
  const log = room.log as { kind: string; line: string; detail: { count?: number; corrects?: string }; back: boolean }[]
  // Each correction took the place of the entry that it mends.
  const mended = log.filter((e) => e.detail.corrects)
  expect(mended.map((e) => e.detail.count)).toEqual([5, 3])
  expect(log.filter((e) => e.line === '4 star main board')).toHaveLength(0)
  expect(log).toHaveLength(facts - 2)
  expect(room.state[0].out).toEqual([])
})

test('a line with several meanings asks by number and the answer is learned; a fact is left out by its number', async ({
  page,
}) => {
  await signIn(page)
  const s = await small(page, 'Drift 42')
  await page.goto(`/studies/${s.id}/strip`)
  const field = page.getByRole('textbox', { name: 'Bench line of PINE' })
  await field.fill('lower bracket off')
  await expect(page.locator('.echo')).toContainText('PINE:')
  await field.press('Enter')
  await expect(page.getByText('all saved')).toBeVisible()
  await field.fill('middle bracket off')
  await field.press('Enter')
  await expect(page.getByText('all saved')).toBeVisible()
  // What was worked on last would be meant; behind two other entries nobody can tell.
  for (const text of ['lower bracket on, middle bracket on', 'battery unplugged', 'battery out']) {
    await field.fill(text)
    await field.press('Enter')
    await expect(page.getByText('all saved')).toBeVisible()
  }
  await field.fill('brkt off')
  // Down leaves the text: there a digit answers, in the line it is text.
  await expect(page.locator('.echo')).toContainText('Which one is meant?')
  await field.press('ArrowDown')
  await page.keyboard.press('2')
  await expect(field).toHaveValue('')
  await expect(page.getByText('all saved')).toBeVisible()
  const words = (await (await page.request.get('/api/words')).json()).words as { say: string; kind: string }[]
  expect(words.map((w) => w.say)).toContain('brkt')
  await field.fill('2 cross middle bracket, 3 tri lower bracket')
  await expect(page.locator('.echo .facts li:not(.bare)')).toHaveCount(2)
  await field.press('ArrowDown')
  await page.keyboard.press('1')
  await page.keyboard.press('Enter')
  await expect(page.getByText('all saved')).toBeVisible()
  const log = (await (await page.request.get(`/api/studies/${s.id}/strip`)).json()).log as {
    detail: { count?: number }
  }[]
  expect(log.at(-1)!.detail.count).toBe(3)
  // What nobody could read stands amber, and the word that changed nothing is named.
  await field.fill('4 star middle bracket wobbly')
  await expect(page.locator('.echo mark')).toHaveText(['wobbly'])
  await field.fill('')
  await expect(answer(page)).toContainText('PINE')
})
