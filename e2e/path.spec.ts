import { readFileSync } from 'node:fs'

import { expect, test as plain, type Locator, type Page } from '@playwright/test'

import { answer, choose } from './bench'
import { World } from './world'

/**
 * From two phones in a box to a published sheet, from an empty store, in at most 220 actions: a click, a key that acts, or
 * one field filled. Every fact that is typed on the way stands in the published file.
 */
class Hand {
  actions = 0
  constructor(readonly page: Page) {}
  async click(what: Locator) {
    this.actions++
    await what.click()
  }
  async press(key: string) {
    this.actions++
    await this.page.keyboard.press(key)
  }
  async fill(what: Locator, text: string) {
    this.actions++
    await what.fill(text)
  }
  /** Types into the field that has the focus. */
  async type(text: string) {
    this.actions++
    await this.page.keyboard.type(text)
  }
  /** Goes to another room by its two keys. */
  async room(key: string) {
    await expect(this.page.getByRole('dialog')).toHaveCount(0)
    await this.press('g')
    await this.press(key)
    await expect(this.page.getByRole('dialog')).toHaveCount(0)
  }
  /** Opens a list and takes one of it: two actions. */
  async choose(within: Page | Locator, label: string, option: string) {
    this.actions += 2
    await choose(this.page, within, label, option)
  }
  private readonly counts: [string, number][] = []
  mark(part: string) {
    this.counts.push([part, this.actions])
  }
  /** How many actions each part of the path took. */
  account() {
    return this.counts.map(([part, n], i) => `${part} ${n - (this.counts[i - 1]?.[1] ?? 0)}`).join(', ')
  }
}

const facts = [
  'took 2 five-lobe 1.0x6.5 out of the bottom edge',
  'h plate 80C 120s front no gap',
  'heat again 80 C 90 s, gap',
  'cut the adhesive all round with the pick',
  'display opened to the left',
  'unscrew 5 tri-wing 1.2x1.6 upper bracket',
  'upper bracket off',
  'battery connector off',
  'display lead off',
  'display out',
  'pried off the earpiece mesh',
  'unscrew 5 cross 1.2x1.3 lower bracket',
  'lower bracket off',
  'pull tab 1 whole, tab 2 torn',
  'battery out',
  'battery 3274mAh 12.68Wh 46.1g',
  'front camera lead off',
  'front camera out',
  'rear camera lead off',
  'rear camera out',
  'loudspeaker out',
  'charge port lead off',
  'charge port out',
  'main board out',
  'vibration motor out',
  'lost 1 screw of the lower bracket',
  'note: a label lies under the battery',
]

/** What the sheet must say of them. */
const published = [
  'software 6.0.1',
  'Unscrew 2 five-lobe screws (6.5 mm), bottom edge',
  'Heat the front, by plate, 80 °C, 2 min, no gap',
  '80 °C, 90 s, gap',
  'Cut the adhesive, with the pick',
  'Screw in 4 cross screws (1.3 mm) of the lower bracket',
  'Pry the display loose',
  'Unscrew 5 tri-wing screws (1.6 mm) of the upper bracket',
  'Take out the display',
  'Pry off the earpiece mesh',
  'Unscrew 5 cross screws (1.3 mm) of the lower bracket',
  'tab broke',
  '3274 mAh, 12.68 Wh, 46.1 g',
  'Take out the vibration motor',
  'Mishap: 1 screw lost of the lower bracket',
  'lost and not found: 1 × cross screw 1.2 × 1.3 mm of the lower bracket',
  'a label lies under the battery',
  'Put back the main board',
  'loses “Ambient colour”',
  'loses “Rear cameras, portrait”',
  'considered lost; new adhesive, not tested',
  'five-lobe driver',
]

plain('from two phones in a box to a published sheet', async ({ page }) => {
  plain.setTimeout(240_000)
  const errors: string[] = []
  page.on('console', (m) => m.type() === 'error' && errors.push(`${m.text()} ${m.location().url}`))
  page.on('pageerror', (e) => errors.push(e.message))
  const world = new World()
  const hand = new Hand(page)
  try {
    // The first administrator, by the link that the server prints; the first analyst, by a link of theirs.
    await page.goto(await world.first())
    await expect(answer(page)).toContainText('Make the first administrator')
    await hand.fill(page.getByLabel('Name to sign in with'), 'office')
    await hand.fill(page.getByLabel('Password'), 'tide lamp gravel')
    await hand.fill(page.getByLabel('Once more'), 'tide lamp gravel')
    await hand.press('Enter')
    await hand.click(page.getByRole('link', { name: 'Say who works here' }))
    const form = page.getByRole('dialog')
    await hand.fill(form.getByLabel('Name to sign in with'), 'bench')
    await hand.choose(form, 'Role', 'analyst')
    await hand.click(form.getByRole('button', { name: 'Save' }))
    const link = (await page.locator('.url').textContent())!.trim()
    await page.goto(link)
    await expect(answer(page)).toContainText('A new password for bench')
    await hand.fill(page.getByLabel('Password'), 'four dry puffins inside')
    await hand.fill(page.getByLabel('Once more'), 'four dry puffins inside')
    await hand.press('Enter')
    await expect(answer(page)).toContainText('Begin here: Open the first study.')
    hand.mark('people')

    // The model, the study and its two phones.
    await hand.click(page.getByRole('button', { name: 'Open the first study' }))
    await hand.fill(form.getByLabel('Maker'), 'Corvane')
    await hand.fill(form.getByLabel('Name of the model'), 'Atoll 6')
    await hand.press('Enter')
    await expect(answer(page)).toContainText('0 of 2 units recorded')
    for (const name of ['PINE', 'AMBER']) {
      await hand.press('n')
      await hand.fill(form.getByLabel('Software build, as the phone shows it'), '6.0.1')
      await hand.press('Enter')
      await expect(form).toHaveCount(0)
      await expect(page.getByRole('button', { name: `Change ${name}` })).toBeVisible()
    }
    for (const name of ['PINE', 'AMBER']) {
      await hand.click(page.getByRole('button', { name: /^I ran all 46: pass$/ }).first())
      await expect(page.getByRole('button', { name: `${name}, Flash lamp: pass` })).toBeVisible()
      const gate = page.locator(`#gate-${name}`)
      for (const tick of ['switched off', 'card tray out', /eye protection/, /guide in reach/])
        await hand.click(gate.getByLabel(tick))
      await hand.fill(gate.getByLabel(`Charge of ${name}, %`), '22')
      for (const state of ['not swollen', 'white', 'nothing on it', 'no lock'])
        await hand.click(gate.getByLabel(state, { exact: true }))
      await expect(gate).toContainText('ready to open')
    }
    await expect(answer(page)).toContainText('You may open')
    hand.mark('intake')

    // The strip-down of one, by its line.
    await hand.room('s')
    await expect(answer(page)).toContainText('PINE: closed; nothing logged yet.')
    await expect(page.getByLabel('Bench line of PINE')).toBeVisible()
    await hand.press('b')
    await expect(page.getByLabel('Bench line of PINE')).toBeFocused()
    const line = page.getByLabel('Bench line of PINE')
    for (const text of facts) {
      await hand.type(text)
      await expect(page.locator('.echo')).toContainText('PINE:')
      await hand.press('Enter')
      await expect(line).toHaveValue('')
      await expect(page.getByText('all saved')).toBeVisible()
    }
    hand.mark('strip-down')
    // Closed again: what each line would cover is ticked, then it is back.
    await hand.press('Escape')
    await hand.room('k')
    await expect(answer(page)).toContainText('PINE: do not close.')
    const current = page.locator('.lines li.current')
    for (let n = await page.locator('.lines li').count(); n > 0; n--) {
      const gates = current.getByRole('checkbox')
      for (let i = 0, all = await gates.count(); i < all; i++)
        if (!(await gates.nth(i).isChecked())) {
          await hand.press(String(i + 1))
          await expect(gates.nth(i)).toBeChecked()
        }
      await expect(current.getByRole('button', { name: 'is back' })).toBeEnabled()
      await hand.press('Enter')
      await expect(page.getByText('all saved')).toBeVisible()
      await page.waitForTimeout(300)
    }
    await hand.click(page.getByRole('button', { name: /^I ran all 46: pass$/ }))
    await hand.choose(page, 'How it was sealed', 'new adhesive')
    await expect(answer(page)).toContainText('PINE: may close. Connectors 5 of 5 seated, nothing unaccounted for.')
    await hand.click(page.getByRole('button', { name: 'It is closed' }))
    await expect(page.getByRole('button', { name: 'Closed', exact: true })).toBeVisible()
    await expect(answer(page)).toContainText('PINE: is closed.')
    hand.mark('close-up')

    // Swap tests.
    await hand.room('x')
    await expect(answer(page)).toContainText('exchange the main boards first')
    const trial = page.getByRole('form', { name: 'A trial, board first' })
    /** Another phone's display costs the ambient colour, its rear camera the portraits, its battery the health figure. */
    const costs: Record<string, string> = {
      display: 'Ambient colour',
      'rear camera': 'Rear cameras, portrait',
      battery: 'Battery health shown',
    }
    const record = async (moved = false) => {
      await expect(trial).toBeVisible()
      const slots = await trial
        .locator('[data-slot-of]')
        .evaluateAll((list) =>
          list.map((e) => [e.getAttribute('data-slot-of')!, e.getAttribute('data-origin')!] as const),
        )
      for (const [slot, origin] of slots)
        if (origin.startsWith('unit') && costs[slot]) {
          await hand.click(trial.getByRole('button', { name: new RegExp(`^${costs[slot]}:`) }))
          await hand.press('l')
        }
      for (const key of ['a', 'a', 'r']) await hand.press(key)
      if (moved) await hand.click(trial.getByRole('button', { name: 'Both, at their time' }))
      await expect(trial).toHaveCount(0)
    }
    await hand.click(page.locator('.slots').getByRole('button', { name: /^display in PINE/ }))
    await hand.press('m')
    await expect(
      page.locator('.slots').getByRole('button', { name: 'display in PINE: AMBER from another phone' }),
    ).toBeVisible()
    await hand.press('n')
    await record()
    await hand.press('n')
    await hand.click(trial.getByRole('button', { name: "Board exchange: every piece AMBER's" }))
    await record(true)
    await hand.press('h')
    await record()
    for (let i = 0; i < 3; i++) {
      await expect(
        page
          .locator('#next')
          .getByRole('button', { name: /^Start/ })
          .first(),
      ).toBeVisible()
      await hand.press('Enter')
      await record()
    }
    hand.mark('swap tests')

    // Score.
    await hand.room('c')
    await expect(answer(page)).toContainText('Physical ease')
    hand.mark('score')

    // A second model, begun from the first.
    await hand.room('g')
    await expect(page.getByRole('heading', { name: /^Models/ })).toBeVisible()
    await expect(form).toHaveCount(0)
    await hand.press('n')
    await expect(form).toBeVisible()
    await hand.choose(form, 'Model', 'A model that is not on record yet')
    await hand.fill(form.getByLabel('Maker'), 'Corvane')
    await hand.fill(form.getByLabel('Name of the model'), 'Atoll 7')
    await hand.choose(form, 'Starts from its predecessor', 'Corvane Atoll 6')
    await hand.click(form.getByRole('button', { name: 'Open the study' }))
    await expect(answer(page)).toContainText('0 of 2 units recorded')
    await hand.room('m')
    await expect(answer(page)).toContainText('Nothing of the Atoll 7 was seen yet')
    hand.mark('second model, compared')

    // The sheet of the first, as one file and as PDF.
    await hand.room('g')
    await hand.click(page.getByRole('link', { name: /^Atoll 6, / }).first())
    await hand.room('h')
    await expect(page.getByRole('link', { name: 'PDF', exact: true })).toBeVisible()
    const pdf = page.waitForEvent('download')
    await hand.click(page.getByRole('link', { name: 'PDF', exact: true }))
    expect(
      readFileSync(await (await pdf).path())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-')
    const opened = page.waitForEvent('popup')
    await hand.click(page.getByRole('link', { name: 'Look at it' }))
    const sheet = await opened
    await sheet.waitForLoadState()
    hand.mark('sheet')
    const text = await sheet.locator('body').innerText()
    expect(
      published.filter((fact) => !text.includes(fact)),
      text,
    ).toEqual([])
    // Nothing that only the program understands, and nothing that another sentence speaks against.
    expect(text).not.toMatch(/[0-9a-f]{8}-[0-9a-f]{4}|tools-all|\b[a-z]+\.[a-z]+ers\b|\bskill\b/)
    const same = text.split('\n').find((l) => l.includes('no difference')) ?? ''
    for (const [, who] of text.matchAll(/(Another phone's [a-z ]+?) loses/g)) expect.soft(same).not.toContain(who!)
    expect(errors.filter((e) => !/status of 422/.test(e))).toEqual([]) // a trial that differs from the bench asks
    expect(hand.actions, hand.account()).toBeLessThanOrEqual(220)
    plain.info().annotations.push({ type: 'actions', description: `${hand.actions}: ${hand.account()}` })
  } finally {
    await world.close()
  }
})
