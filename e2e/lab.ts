import type { Page } from '@playwright/test'

import { expect, study } from './bench'

export const headers = () => ({ 'Idempotency-Key': crypto.randomUUID() })

/** A small model with two phones whose baselines passed, made over the interface. */
export async function smallStudy(
  page: Page,
  name: string,
  checks = ['touch', 'loudspeaker', 'charging'],
): Promise<string> {
  const post = async (path: string, data: object) => {
    const sent = await page.request.post(path, { headers: headers(), data })
    expect(sent.status(), await sent.text()).toBe(201)
    return sent.json()
  }
  const s = await study(page, 'Drift 4, first pair')
  const all = (await (await page.request.get(`/api/studies/${s.id}/intake`)).json()).checks as { mark: string }[]
  const id = () => crypto.randomUUID()
  const model = await post('/api/models', {
    id: id(),
    maker: 'Corvane',
    name,
    entry: 'back',
    width_mm: 70,
    height_mm: 140,
    check_changes: all.filter((c) => !checks.includes(c.mark)).map((c) => ({ mark: c.mark, off: true })),
  })
  for (const [name, family, slot, y] of [
    ['display', 'SC', true, 0],
    ['battery', 'PW', true, 40],
    ['loudspeaker', 'SO', true, 90],
    ['main board', 'BD', false, 20],
  ] as const)
    await post(`/api/models/${model.id}/parts`, {
      id: id(),
      name,
      family,
      slot,
      x_mm: 5,
      y_mm: y,
      w_mm: 40,
      h_mm: 18,
      layer: 1,
    })
  const made = await post('/api/studies', {
    id: id(),
    model_id: model.id,
    title: `${name}, opened`,
  })
  for (const [name, colour, shape] of [
    ['PINE', 'green', 'triangle'],
    ['AMBER', 'amber', 'circle'],
  ] as const) {
    const u = await post(`/api/studies/${made.id}/units`, {
      id: id(),
      name,
      colour,
      shape,
      build: '2.0',
    })
    for (const c of checks) {
      const put = await page.request.put(`/api/units/${u.id}/baseline/${c}`, {
        headers: headers(),
        data: { version: 0, result: 'pass' },
      })
      expect(put.status(), await put.text()).toBe(200)
    }
  }
  return made.id
}

/**
 * Does what the first card says, by keyboard: `lost` names the checks that are lost with these slots holding another phone's piece.
 * Says false when the form does not open.
 */
export async function followCard(page: Page, lost: (foreign: (slot: string) => boolean) => string[]) {
  const form = page.getByRole('form', { name: 'A trial, board first' })
  await page.keyboard.press('Enter')
  await expect(form).toBeVisible()
  const slots = await form
    .locator('[data-slot-of]')
    .evaluateAll((list) => list.map((e) => [e.getAttribute('data-slot-of')!, e.getAttribute('data-origin')!] as const))
  const away = new Set(slots.filter(([, origin]) => origin.startsWith('unit')).map(([slot]) => slot))
  const seen = lost((slot) => away.has(slot))
  // The checks stand in the order in which they are likely lost; the focus is on the first.
  const checks = form.locator('[data-check] button')
  await expect(checks.first()).toBeFocused()
  for (const c of await checks.all()) {
    const name = (await c.getAttribute('aria-label'))!.split(/[ ,:]/)[0]!
    await page.keyboard.press(seen.includes(name) ? 'l' : 'p')
  }
  await page.keyboard.press('r')
  await expect(form).toHaveCount(0)
}
