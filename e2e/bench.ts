import AxeBuilder from '@axe-core/playwright'
import { test as plain, expect, type Locator, type Page } from '@playwright/test'

import { World } from './world'

export { expect }

/**
 * Every test has a demo world of its own (or an empty one, on `test.use({ empty: true })`), and fails on an error in the
 * console other than the answers that it expects to be refused.
 */
export const test = plain.extend<{
  refusals: RegExp[]
  empty: boolean
  /** The world has instruments of its own. */
  measures: boolean
  world: World
}>({
  empty: [false, { option: true }],
  measures: [false, { option: true }],
  world: async ({ empty, measures }, use) => {
    const world = new World()
    try {
      if (measures) await world.measure()
      await world.open(empty ? undefined : process.env.WARYOWL_E2E_TEMPLATE)
      await use(world)
    } finally {
      await world.close()
    }
  },
  baseURL: ({ world }, use) => use(world.base),
  // eslint-disable-next-line no-empty-pattern
  refusals: async ({}, use) => use([]),
  page: async ({ page, refusals }, use) => {
    const errors: string[] = []
    page.on('console', (m) => m.type() === 'error' && errors.push(`${m.text()} ${m.location().url}`))
    page.on('pageerror', (e) => errors.push(e.message))
    await use(page)
    expect(errors.filter((e) => !refusals.some((r) => r.test(e)))).toEqual([])
  },
})

export type Role = 'analyst' | 'technician' | 'buyer' | 'admin'

/** Signs in through the interface's own route, so that a test starts where its room is. */
export async function signIn(page: Page, role: Role = 'analyst') {
  const password = role === 'admin' ? 'demo-admin-office' : `demo-${role}`
  const answer = await page.request.post('/api/session', {
    data: { name: role, password },
  })
  expect(answer.status()).toBe(200)
}

export async function study(page: Page, title: string): Promise<{ id: string; model: string }> {
  const list = await (await page.request.get('/api/studies')).json()
  const card = list.find((c: { study: { title: string } }) => c.study.title === title)
  return { id: card.study.id, model: card.model.id }
}

export const answer = (page: Page) => page.getByRole('heading', { level: 1 })

/** axe finds nothing, once a list that was just chosen from has folded away. */
export async function clean(page: Page) {
  await expect(page.locator('.el-select-dropdown:visible')).toHaveCount(0)
  const found = await new AxeBuilder({ page }).analyze()
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`)).toEqual([])
}

/** No sideways scrolling of the page as a whole. */
export async function fits(page: Page) {
  expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0)
}

/** Chooses an option of a select by typing, as people do. */
export async function choose(page: Page, within: Page | Locator, label: string, option: string) {
  const box = within.getByRole('combobox', { name: label, exact: true })
  await expect(async () => {
    await box.focus()
    if ((await box.getAttribute('aria-expanded')) !== 'true') await page.keyboard.press('Enter')
    await expect(box).toHaveAttribute('aria-expanded', 'true', { timeout: 1500 })
  }).toPass()
  await page
    .locator(`[id="${await box.getAttribute('aria-controls')}"] [role=option]:visible`)
    .filter({
      hasText: new RegExp(`^\\s*${option.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\s*$`),
    })
    .click()
}

/** Presses Tab until the focus is on what is wanted. */
export async function tabTo(page: Page, wanted: Locator, most = 200) {
  await expect(wanted).toBeEnabled() // a button that is switched off is passed by
  for (let i = 0; i < most; i++) {
    if (
      await wanted
        .evaluate((e) => e === document.activeElement || e.contains(document.activeElement))
        .catch(() => false)
    )
      return
    await page.keyboard.press('Tab')
  }
  throw new Error(`Tab did not reach ${wanted}`)
}

/** Opens the first page and goes to the find field. */
export async function home(page: Page) {
  await page.goto('/')
  await expect(answer(page)).not.toContainText('Reading')
  await page.keyboard.press('/')
  await expect(page.locator('#find')).toBeFocused()
}
/** What a form says when it is refused; its fields say their own part beside it. */
export const refusal = (form: Locator) => form.locator('.problem')
