import AxeBuilder from '@axe-core/playwright'
import { readdirSync, readFileSync } from 'node:fs'

import type { Page } from '@playwright/test'

import { answer, expect, signIn, study, test } from './bench'
import { unsaid } from './wording'

const demo = 'Drift 4, first pair'

/** Every room of the demo by its address. */
async function rooms(page: Page): Promise<string[]> {
  const s = await study(page, demo)
  const sheet = await (await page.request.get(`/api/models/${s.model}`)).json()
  const part = sheet.parts.find((p: { name: string }) => p.name === 'battery') ?? sheet.parts[0]
  const of = (stage: string) => `/studies/${s.id}/${stage}`
  return [
    '/',
    of('intake'),
    of('strip'),
    `/models/${s.model}/ways?study=${s.id}`,
    of('swap'),
    of('swap?face=known'),
    of('swap?face=account'),
    of('closeup'),
    of('mat'),
    `/models/${s.model}/score?study=${s.id}`,
    `/models/${s.model}/score?face=against`,
    of('handover'),
    of('narration'),
    `/models/${s.model}/parts/${part.id}`,
    '/fit?kind=battery',
    `/compare?model=${s.model}`,
    '/parts',
    '/parts?face=list',
    '/parts?face=basket',
    '/parts?face=stock',
    '/parts?face=incoming',
    '/parts?face=jobs',
    `/parts?face=order&order=${(await (await page.request.get('/api/orders')).json()).orders[0].id}`,
    '/parts?face=record',
    '/day',
    '/dry-runs',
    '/me',
    '/trail',
  ]
}

async function at(page: Page, path: string) {
  await page.goto(path)
  await expect(answer(page).or(page.locator('h1')).first()).not.toContainText('Reading')
  await page.waitForLoadState('networkidle')
}

/** What is read on a page: its words, and those that only a reader of the screen hears. */
const read = (page: Page) =>
  page.evaluate(() => {
    const texts: string[] = []
    const walk = document.createTreeWalker(document.querySelector('#app')!, NodeFilter.SHOW_ELEMENT)
    for (let e = walk.currentNode as Element | null; e; e = walk.nextNode() as Element | null) {
      for (const a of ['aria-label', 'title', 'placeholder', 'alt'])
        if (e.getAttribute(a)) texts.push(e.getAttribute(a)!)
      if (e instanceof SVGElement && e.tagName !== 'text' && e.tagName !== 'title') continue
      const own = Array.from(e.childNodes)
        .filter((n) => n.nodeType === Node.TEXT_NODE)
        .map((n) => n.textContent)
        .join(' ')
      if (own.trim()) texts.push(own.trim())
    }
    return texts
  })

/** Texts of the demo that people typed: their words are their own. */
const typed = /^(u|b|d|x|c|h|w|s|p|l|r|m|!|\?|t|\+) /

test('no room says what is not said, clips a cell, breaks a date or moves sideways', async ({ page }) => {
  test.slow()
  await signIn(page)
  const wrong: string[] = []
  for (const path of await rooms(page)) {
    await page.setViewportSize({ width: 1280, height: 800 })
    await at(page, path)
    for (const text of await read(page))
      if (!typed.test(text)) for (const u of unsaid(text)) wrong.push(`${path}: ${u}`)
    wrong.push(
      ...(await page.evaluate((p) => {
        const list: string[] = []
        for (const c of Array.from(document.querySelectorAll<HTMLElement>('td, th')))
          if (c.scrollWidth > c.clientWidth + 1 && getComputedStyle(c).display !== 'none' && c.clientWidth > 1)
            list.push(`${p}: a cell is clipped: ${c.textContent?.trim().slice(0, 40)}`)
        const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
        for (let n = walk.nextNode(); n; n = walk.nextNode())
          for (const m of n.textContent!.matchAll(
            /\d{4}[-‑]\d{2}[-‑]\d{2}|\d{1,2}[  ]\w{3}[  ]\d{4}|\w{3}[  ]\d{1,2},[  ]\d{4}/g,
          )) {
            const range = document.createRange()
            range.setStart(n, m.index)
            range.setEnd(n, m.index + m[0].length)
            if (range.getClientRects().length > 1) list.push(`${p}: a date is broken: ${m[0]}`)
          }
        return list
      }, path)),
    )
    for (const width of [1024, 1920, 390]) {
      await page.setViewportSize({ width, height: 800 })
      const over = await page.evaluate(
        () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
      )
      if (over > 0) wrong.push(`${path}: ${over} px sideways at ${width}`)
    }
  }
  expect(wrong.filter((w, i) => wrong.indexOf(w) === i)).toEqual([])
})

test('files and the guide say what the pages say', async ({ page }) => {
  await signIn(page)
  const s = await study(page, demo)
  const wrong: string[] = []
  for (const path of [
    `/api/studies/${s.id}/sheet/html`,
    `/api/models/${s.model}/tables/parts/csv`,
    `/api/models/${s.model}/tables/steps/csv`,
    `/api/models/${s.model}/desk/offers/csv`,
    `/api/days/2026-11-27/calendar`,
  ]) {
    const got = await page.request.get(path)
    expect(got.status(), path).toBe(200)
    const text = (await got.text())
      .replace(/<style[\s\S]*?<\/style>|<script[\s\S]*?<\/script>/g, '')
      .replace(/<[^>]+>/g, '\n')
    // What stands in a table are codes, which other programs read; its heads are words.
    for (const line of path.endsWith('csv') ? text.split('\n').slice(0, 1) : text.split('\n'))
      for (const u of unsaid(line)) wrong.push(`${path}: ${u}`)
  }
  for (const f of readdirSync('../docs/guide').filter((x) => x.endsWith('.md')))
    for (const line of readFileSync(`../docs/guide/${f}`, 'utf8')
      .replace(/`[^`]*`/g, '')
      .split('\n'))
      for (const u of unsaid(line)) wrong.push(`${f}: ${u}`)
  expect(wrong).toEqual([])
})

for (const theme of ['day', 'night'])
  test(`names of controls hold what is seen on them, and nothing else is wrong for a reader of the screen, by ${theme}`, async ({
    page,
  }) => {
    test.slow()
    await signIn(page)
    await page.goto('/')
    await page.evaluate((t) => localStorage.setItem('waryowl-theme', t), theme)
    const wrong: string[] = []
    for (const path of await rooms(page)) {
      await at(page, path)
      const { violations } = await new AxeBuilder({ page })
        .options({
          runOnly: [
            'label-content-name-mismatch',
            'color-contrast',
            'button-name',
            'label',
            'heading-order',
            'target-size',
          ],
        })
        .analyze()
      for (const v of violations)
        wrong.push(
          `${path}: ${v.id}: ${v.nodes
            .slice(0, 3)
            .map((n) => n.html.slice(0, 140))
            .join(' | ')}`,
        )
    }
    expect(wrong).toEqual([])
  })

test('brow, stages and table heads stay while a room scrolls', async ({ page }) => {
  await signIn(page)
  const s = await study(page, demo)
  await at(page, `/models/${s.model}/ways?study=${s.id}`)
  await page.evaluate(() => scrollTo(0, document.body.scrollHeight))
  await expect(page.getByRole('navigation', { name: 'Wary Owl' })).toBeInViewport()
  await expect(page.getByRole('link', { name: /^complete Intake|Intake/ }).first()).toBeInViewport()
  const table = page.getByRole('table', { name: 'Every part' })
  const rows = await table.getByRole('row').count()
  await table
    .getByRole('row')
    .nth(rows - 2)
    .scrollIntoViewIfNeeded()
  const top = await table.getByRole('columnheader', { name: 'Part', exact: true }).boundingBox()
  expect(top!.y).toBeGreaterThanOrEqual(40)
  await expect(table.getByRole('columnheader', { name: 'Part', exact: true })).toBeInViewport()
})

test('a table sorts, filters, selects, copies and goes into a file; reload and Back keep its place', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await signIn(page)
  await page.goto('/')
  const table = page.getByRole('table', { name: 'Models' })
  const first = () => table.getByRole('row').nth(1).getByRole('rowheader')
  await expect(first()).toContainText('Atoll 2')
  await table.getByRole('button', { name: 'battery' }).click()
  await expect(table.getByRole('columnheader', { name: 'battery' })).toHaveAttribute('aria-sort', 'descending')
  const most = await table.getByRole('row').nth(1).innerText()
  await page.reload()
  await expect(table.getByRole('columnheader', { name: 'battery' })).toHaveAttribute('aria-sort', 'descending')
  expect(await table.getByRole('row').nth(1).innerText()).toBe(most)
  await table.getByRole('button', { name: 'Model', exact: true }).first().click()
  await expect(table.getByRole('columnheader', { name: /^Model/ })).toHaveAttribute('aria-sort', 'ascending')
  // Shift takes all rows in between.
  const boxes = table.getByRole('checkbox')
  await boxes.nth(1).click()
  await boxes.nth(3).click({ modifiers: ['Shift'] })
  await expect(page.getByText(/^3 of \d+ rows chosen/)).toBeVisible()
  await page.getByRole('button', { name: 'copy' }).first().click()
  const copied = await page.evaluate(() => navigator.clipboard.readText())
  expect(copied.split('\n')).toHaveLength(4)
  expect(copied).toMatch(/^Model\tbattery\t/)
  const coming = page.waitForEvent('download')
  await page.getByRole('button', { name: 'CSV' }).first().click()
  const file = readFileSync((await (await coming).path())!, 'utf8')
  expect(file.split('\r\n').filter(Boolean)).toHaveLength(4)
  // Two ticked models are compared with one key.
  await boxes.nth(3).click()
  await page.keyboard.press('c')
  await expect(page).toHaveURL(/\/compare\?/)
  await page.goBack()
  await expect(table.getByRole('columnheader', { name: /^Model/ })).toHaveAttribute('aria-sort', 'ascending')

  await page.goto('/parts?face=record')
  const offers = page.getByRole('table', { name: 'Offers' })
  await expect(offers.getByRole('row').nth(2)).toBeVisible()
  const all = (await offers.getByRole('row').count()) - 1
  await page.getByRole('searchbox', { name: 'Filter offers' }).fill('battery')
  const few = (await offers.getByRole('row').count()) - 1
  expect(few).toBeLessThan(all)
  await page.reload()
  await expect(page.getByRole('searchbox', { name: 'Filter offers' })).toHaveValue('battery')
  await expect(offers.getByRole('row')).toHaveCount(few + 1)
})

test('many rows at once are deleted and come back with one undo', async ({ page }) => {
  await signIn(page, 'buyer')
  await page.goto('/parts?face=record')
  const offers = page.getByRole('table', { name: 'Offers' })
  await expect(offers).toBeVisible()
  const all = await offers.getByRole('row').count()
  await offers.getByRole('checkbox').nth(1).click()
  await offers.getByRole('checkbox').nth(2).click()
  await page.getByRole('button', { name: 'Delete 2' }).click()
  await expect(page.getByText('2 rows are deleted.')).toBeVisible()
  await expect(offers.getByRole('row')).toHaveCount(all - 2)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(offers.getByRole('row')).toHaveCount(all)
})

test('find: by kind while one types, Enter opens the first, Back keeps the query, from every room', async ({
  page,
}) => {
  await signIn(page)
  const s = await study(page, demo)
  await at(page, `/studies/${s.id}/intake`)
  await page.keyboard.press('/')
  await page.keyboard.type('drift 4 battery')
  const list = page.getByRole('listbox', { name: 'What was found' })
  await expect(list.getByText('Parts', { exact: true })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/parts\//)
  await page.keyboard.press('/')
  await page.keyboard.type('amber')
  await expect(list.getByText('Phones', { exact: true })).toBeVisible()
  await page.keyboard.press('Escape')
  await at(page, '/')
  await page.keyboard.press('/')
  await page.keyboard.type('drift 4 slim')
  await expect(list.getByText('Models', { exact: true })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/ways/)
  await page.goBack()
  await expect(page.getByRole('combobox', { name: 'Find anything' })).toHaveValue('drift 4 slim')
})

test('rooms by key from everywhere; what is typed survives a reload until it is sent or somebody signs out', async ({
  page,
}) => {
  await signIn(page)
  const s = await study(page, demo)
  await at(page, `/studies/${s.id}/intake`)
  await page.keyboard.press('g')
  await expect(page.getByRole('dialog', { name: 'Rooms' })).toBeVisible()
  await page.keyboard.press('s')
  await expect(page).toHaveURL(/\/strip/)
  await expect(page.getByLabel(/^Bench line of/)).toBeVisible()
  await page.keyboard.press('b')
  await page.keyboard.type('battery sits tight and')
  await page.waitForTimeout(300)
  await page.reload()
  await expect(page.getByLabel(/^Bench line of/)).toHaveValue('battery sits tight and')
  await page.goto('/')
  await page.getByRole('button', { name: 'New study' }).click()
  const form = page.getByRole('dialog', { name: 'New study' })
  await form.getByLabel('Region variant').fill('island network')
  await page.reload()
  await page.getByRole('button', { name: 'New study' }).click()
  await expect(form.getByLabel('Region variant')).toHaveValue('island network')
  await form.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('button', { name: 'New study' }).click()
  await expect(form.getByLabel('Region variant')).toHaveValue('')
  await form.getByRole('button', { name: 'Close' }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible()
  expect(await page.evaluate(() => Object.keys(sessionStorage).filter((k) => k.startsWith('waryowl-typed')))).toEqual(
    [],
  )
})

for (const [who, heading] of [
  ['analyst', 'Models'],
  ['technician', 'Phones that are here'],
  ['buyer', 'Parts that run out'],
] as const)
  test(`the first page of a ${who} leads on with one key`, async ({ page }) => {
    await signIn(page, who)
    await page.goto('/')
    await expect(page.getByRole('heading', { name: new RegExp(`^${heading}`) })).toBeVisible()
    const act = page.locator('#next li a').first()
    const to = await act.getAttribute('href')
    await page.locator('body').press('1')
    await expect(page).toHaveURL(new RegExp(to!.split('?')[0]!.replaceAll('/', '\\/')))
  })

test.describe('refusals and an empty store', () => {
  test.use({ empty: true })
  test('an empty store begins with three steps, each with its button', async ({ page }) => {
    await signIn(page)
    await page.goto('/')
    await expect(answer(page)).toContainText('Nothing is on record yet')
    await expect(page.getByText('Three steps to begin')).toBeVisible()
    await page.getByRole('button', { name: 'Open the first study' }).click()
    await expect(page.getByRole('dialog', { name: 'New study' })).toBeVisible()
  })
})
