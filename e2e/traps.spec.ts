import type { Page } from '@playwright/test'

import { answer, expect, signIn, test } from './bench'
import { headers, smallStudy } from './lab'

type Room = { units: { id: string }[]; slots: { id: string; name: string }[] }
/** A reading on a board: what was lost, with which parts of the other phone; "own": the phone's own piece. */
type Step =
  { on: 0 | 1; lost?: string[]; with?: string[] } | { act: string; on: 0 | 1; what?: string; spoils?: string[] }

/** Records a history over the interface and returns what the page says. */
async function play(page: Page, name: string, steps: Step[]) {
  const id = await smallStudy(page, name)
  const room = (await (await page.request.get(`/api/studies/${id}/swap`)).json()) as Room
  const part = (n: string) => room.slots.find((s) => s.name === n)!.id
  const send = async (path: string, data: object) => {
    const r = await page.request.post(`/api/studies/${id}/${path}`, {
      headers: headers(),
      data: { id: crypto.randomUUID(), ...data },
    })
    expect(r.status(), await r.text()).toBe(201)
  }
  for (const s of steps) {
    const board = room.units[s.on]!.id
    const piece = (n: string) => ({
      part_id: part(n),
      origin: 'unit',
      unit_id: room.units[1 - s.on]!.id,
    })
    if ('act' in s)
      await send('swap-acts', {
        kind: s.act,
        board_unit_id: board,
        understood: true,
        ...(s.what ? { what: s.what, pieces: [piece('battery')], spoils: s.spoils } : {}),
      })
    else
      await send('trials', {
        board_unit_id: board,
        pieces: (s.with ?? []).map(piece),
        results: Object.fromEntries(
          ['touch', 'loudspeaker', 'charging'].map((c) => [c, s.lost?.includes(c) ? 'lost' : 'pass']),
        ),
      })
  }
  await page.goto(`/studies/${id}/swap?face=known`)
  await expect(answer(page)).toContainText('of 3 checks settled')
}

const battery = (lost: boolean, on: 0 | 1 = 0): Step => ({
  on,
  with: ['battery'],
  lost: lost ? ['charging'] : [],
})

test('traps of the bench read as a careful expert would sign them', async ({ page }) => {
  await signIn(page)
  const cell = (what: string) =>
    page.getByRole('region', { name: 'Parts and lost checks' }).getByRole('button', { name: what })
  // Lost in half of its readings: it comes and goes, and never works.
  await play(page, 'Skerry 11', [
    battery(true),
    battery(false),
    battery(true),
    { on: 0 },
    battery(false),
    battery(true),
  ])
  await expect(cell('battery, from another phone, charging: comes and goes')).toBeVisible()
  // Neither alone, both together, though nobody named the pair.
  const both: Step = {
    on: 0,
    with: ['battery', 'loudspeaker'],
    lost: ['charging'],
  }
  const alone: Step[] = [
    battery(false),
    { on: 0, with: ['loudspeaker'] },
    battery(false),
    { on: 0, with: ['loudspeaker'] },
  ]
  const other = (with_: string[], lost?: string[]): Step => ({ on: 1, with: with_, lost })
  await play(page, 'Skerry 12', [
    both,
    both,
    ...alone,
    both,
    { on: 0 },
    other(['battery', 'loudspeaker'], ['charging']),
    other(['battery']),
    other(['loudspeaker']),
    other(['battery', 'loudspeaker'], ['charging']),
    { on: 1 },
  ])
  await expect(cell('battery, from another phone, charging: lost only together')).toBeVisible()
  await cell('battery, from another phone, charging').click()
  await expect(page.locator('.evidence')).toContainText('lost with it')
  // A reset ended it with the same piece fitted: not settled, and the account names the act.
  await play(page, 'Skerry 13', [
    battery(true),
    battery(true),
    battery(true),
    { act: 'reset', on: 0 },
    battery(false),
    battery(false),
    battery(false),
  ])
  await expect(cell('battery, from another phone, charging: needs a test')).toBeVisible()
  await page.getByRole('button', { name: 'Summary' }).click()
  await expect(page.getByText('which came back after a reset')).toBeVisible()
  // A display that was hurt on the way loses touch on its own board too: no battery is proven on its back.
  const hurt: Step = { on: 0, with: ['battery', 'display'], lost: ['touch'] }
  await play(page, 'Skerry 14', [{ on: 0, with: ['display'] }, hurt, hurt, { on: 1, lost: ['touch'] }, { on: 0 }])
  await expect(cell('battery, from another phone, touch: loses')).toHaveCount(0)
  await expect(page.locator('.sus')).toContainText(/damaged|defective|bad/)
  // A scratch spoils nothing; a dent only the check that it names.
  await play(page, 'Skerry 15', [
    { act: 'damage', on: 0, what: 'scratched', spoils: ['cosmetic'] },
    { act: 'damage', on: 0, what: 'dented', spoils: ['charging'] },
    battery(true),
  ])
  const doubted = page.getByRole('listitem').filter({ hasText: 'the battery is damaged: dented' })
  await expect(doubted).toHaveCount(1)
  await expect(doubted).toContainText('Charging by cable')
})
