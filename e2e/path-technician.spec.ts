import type { Page } from '@playwright/test'

import { answer, clean as tidy, expect, fits, signIn, test } from './bench'
import { unsaid } from './wording'

test.use({ refusals: [/ERR_INTERNET_DISCONNECTED|Failed to fetch/] })

/** The clock of the page stands still between acts and is put on by hand: a repair of half an hour is walked in a minute. */
async function clockOf(page: Page) {
  let now = Date.now() - 3 * 3600_000
  await page.clock.setFixedTime(now)
  return async (seconds: number) => {
    now += seconds * 1000
    await page.clock.setFixedTime(now)
  }
}
/** Nothing for axe to find, and no word that is not said. */
async function clean(page: Page) {
  await expect(page.locator('.dialog-fade-enter-active')).toHaveCount(0)
  await tidy(page)
  const lines = (await page.locator('#app').innerText()).split('\n')
  expect(lines.flatMap(unsaid)).toEqual([])
}
const outcome = (page: Page) => page.locator('#outcome dl')
const waits = (page: Page) => page.getByRole('timer')
const stock = async (page: Page) => {
  const desk = await (await page.request.get('/api/parts')).json()
  return desk.shelves.find((x: { place: string }) => x.place === 'drawer B2').quantity as number
}

test('a battery, by keys: from the first page to the slip, one action a step or screw, nothing typed', async ({
  page,
  context,
}) => {
  test.setTimeout(180_000)
  await signIn(page, 'technician')
  const later = await clockOf(page)
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Phones that are here' })).toBeVisible()
  const before = await stock(page)
  let actions = 2
  await page.keyboard.press('/')
  await page.keyboard.type('Drift 4 battery')
  await expect(page.getByRole('option', { name: /^battery/ }).first()).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText('Drift 4, battery: whole repair 39 min')
  await expect(page.getByText('Ask first')).toBeVisible()
  await expect(page.locator('#there')).toContainText('battery: 2 in drawer B2')
  await clean(page)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog').getByLabel('Sticker on the phone')).toHaveValue('TEAL')
  await clean(page)
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText('TEAL, Drift 4, battery: whole repair 39 min')
  await clean(page)
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/follow$/)
  await expect(answer(page)).toHaveText(/^\s*Take out card tray/)
  actions += 3
  expect(actions).toBeLessThanOrEqual(6)
  await clean(page)

  // Acts and screws, a wait that outlives a reload and is seen elsewhere, two acts without a network.
  let presses = 0
  let acts = 0
  let stops = 0
  for (let i = 0; i < 120 && !(await outcome(page).isVisible()); i++) {
    const text = (await answer(page).textContent())!.trim()
    const screws = await page.locator('.screws button:not(.on)').count()
    if (await waits(page).isVisible()) {
      if (text.startsWith('Wait: front edge')) {
        await clean(page)
        await later(60)
        await page.reload()
        await expect(waits(page)).toHaveText(/^1:3\d$/)
        await page.goto('/')
        await expect(page.getByRole('region', { name: 'Running clocks' })).toContainText('TEAL')
        await page.goBack()
        await expect(waits(page)).toBeVisible()
        await later(120)
        await expect(page.getByText('Is there a gap now?')).toBeVisible()
        await page.keyboard.press('2')
      } else {
        await later(900)
        await page.keyboard.press('s')
      }
    } else {
      if (text.startsWith('Disconnect battery')) {
        await expect(page.getByText('all saved')).toBeVisible({ timeout: 60_000 })
        await context.setOffline(true)
      }
      await later(screws > 1 ? 8 : 24)
      await page.keyboard.press(' ')
    }
    presses++
    if (screws <= 1) acts++
    const stop = page.getByRole('alertdialog')
    while (await stop.isVisible()) {
      stops++
      if (stops === 1) {
        // “not yet” stays where it was.
        await page.keyboard.press('1')
        await expect(stop).toHaveCount(0)
        await expect(answer(page)).toHaveText(text)
        await page.keyboard.press(' ')
        await expect(stop).toHaveCount(1)
      }
      const title = await stop.getAttribute('aria-label')
      await page.keyboard.press('3')
      await expect(page.getByRole('alertdialog', { name: title!, exact: true })).toHaveCount(0)
    }
    if (text.startsWith('Disconnect sensor')) {
      await expect(page.getByText('offline, 3 unsent')).toBeVisible()
      await context.setOffline(false)
      await expect(page.getByText('all saved')).toBeVisible({ timeout: 30_000 })
    }
    if (text.startsWith('See that')) await expect(page.locator('.act')).toBeVisible()
    await expect(async () => {
      const same = (await answer(page).textContent())!.trim() === text
      if (same) expect(await page.locator('.screws button:not(.on)').count()).toBeLessThan(screws || 1)
    }).toPass()
  }
  expect(stops).toBeGreaterThan(0) // the lever at a cell whose charge nobody wrote down
  expect(presses).toBeLessThanOrEqual(acts + 7 + 7) // seven screws out, seven in

  // The checks of what was touched, then how it went.
  await clean(page)
  await expect(page.locator('li.now')).toContainText('Starts and reaches the home screen')
  for (let i = 0; i < 60 && (await page.locator('li.now').count()); i++) {
    const left = await page.locator('li.now').textContent()
    await later(10)
    await page.keyboard.press('1')
    await expect(page.locator('li.now').filter({ hasText: left!.slice(0, 20) })).toHaveCount(0)
  }
  await expect(outcome(page)).toContainText('7 of 7 are back')
  await expect(outcome(page)).toContainText('say one')
  await expect(page.getByText('all saved')).toBeVisible({ timeout: 30_000 })
  const save = page.getByRole('button', { name: /^Save/ })
  await expect(save).toBeDisabled()
  await page.keyboard.press('0')
  await expect(save).toBeEnabled()
  const minutes = Number(await outcome(page).locator('.big').textContent())
  expect(minutes).toBeGreaterThan(25)
  expect(minutes).toBeLessThan(60)
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText(`closed after ${minutes} min. Print the slip and hand it back.`)
  expect(await stock(page)).toBe(before - 1)
  await expect(page.locator('.slip')).toContainText('Starts and reaches the home screen: works')
  await clean(page)
  await page.keyboard.press('j')
  await expect(page.getByText('9 closed jobs took')).toBeVisible()
  await page.goBack()
  await page.keyboard.press('h')
  await expect(answer(page)).toContainText('handed back')
})

test('a screen, by touch at 390 wide: nothing sideways, targets for gloves, a clicked-through repair teaches nothing', async ({
  page,
}) => {
  test.setTimeout(180_000)
  await signIn(page, 'technician')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto('/')
  await page.locator('#find').fill('Drift 4 screen')
  await page
    .getByRole('option', { name: /^display assembly/ })
    .first()
    .click()
  await expect(answer(page)).toContainText('Drift 4, display assembly: whole repair')
  const verdict = page.getByText('Ask first')
  await expect(verdict).toBeVisible()
  expect((await verdict.boundingBox())!.y).toBeLessThan(130)
  await fits(page)
  await clean(page)
  await page.getByRole('button', { name: /Take a phone in/ }).click()
  await page.getByRole('button', { name: 'the rest works' }).click()
  await page.getByLabel('What the customer says').fill('cracked on the pier')
  await page.getByRole('button', { name: 'Take it in' }).click()
  await expect(page.getByLabel('What they say')).toHaveValue('cracked on the pier')
  await fits(page)
  await page.getByRole('button', { name: /Follow the repair/ }).click()
  await expect(page).toHaveURL(/follow$/)
  await expect(answer(page)).toHaveText(/^\s*Take out card tray/)
  const small = () =>
    page
      .locator('.follow button:visible, .follow a:visible')
      .evaluateAll((all) =>
        all
          .filter((b) => b.getBoundingClientRect().height < 43.5 && !b.classList.contains('term'))
          .map((b) => b.textContent),
      )
  let moved = false
  for (let i = 0; i < 120 && !(await outcome(page).isVisible()); i++) {
    const text = (await answer(page).textContent())!.trim()
    if (i % 9 === 0 || (await waits(page).isVisible())) {
      await fits(page)
      expect(await small()).toEqual([])
    }
    moved ||= text.startsWith('Move the sensor strip over')
    const screws = page.locator('.screws button:not(.on)')
    const left = await screws.count()
    await (left ? screws.first() : page.locator('.moves .main')).click()
    await expect(async () => {
      const same = (await answer(page).textContent())!.trim() === text
      if (same) expect(await screws.count()).toBeLessThan(left || 1)
    }).toPass()
  }
  expect(moved).toBe(true)
  for (let i = 0; i < 60 && (await page.locator('li.now').count()); i++) {
    const left = await page.locator('li.now').textContent()
    await page
      .locator('li.now')
      .getByRole('button', { name: i === 2 ? 'lost' : 'works' })
      .click()
    await expect(page.locator('li.now').filter({ hasText: left!.slice(0, 20) })).toHaveCount(0)
  }
  await fits(page)
  await page.getByRole('button', { name: /^a part/ }).click()
  const form = page.getByRole('dialog', { name: 'What was damaged?' })
  await form.getByRole('combobox').click()
  await form.getByRole('option', { name: 'earpiece' }).click()
  await form.getByRole('button', { name: 'Write it down' }).click()
  await expect(outcome(page)).toContainText('earpiece')
  await page.getByRole('button', { name: /^Save/ }).click({ timeout: 30_000 })
  await expect(answer(page)).toContainText('is that right? It teaches nothing until you say so.')
  await page.getByRole('button', { name: /Leave these minutes out/ }).click()
  await expect(answer(page)).toContainText('Print the slip and hand it back.')
  await fits(page)
  await clean(page)
})

test('what a technician proposes an analyst takes into the record with one key', async ({ page }) => {
  await signIn(page, 'technician')
  await page.goto('/?new=phone')
  const form = page.getByRole('dialog')
  await form.getByRole('combobox', { name: 'Model' }).fill('Drift 4')
  await form.getByRole('option', { name: 'Pellow Drift 4', exact: true }).click()
  await form.getByRole('button', { name: 'Take it in' }).click()
  await expect(answer(page)).toContainText('what is to be done is not said yet')
  await page.getByRole('combobox', { name: 'Part that is exchanged' }).click()
  await page.getByRole('option', { name: 'battery', exact: true }).click()
  await page.getByRole('button', { name: /Follow the repair/ }).click()
  await expect(page).toHaveURL(/follow$/)
  await expect(answer(page)).toHaveText(/^\s*Take out card tray/)
  await page.keyboard.press('l')
  const lacks = page.getByRole('dialog', { name: 'What the record lacks' })
  await lacks.getByLabel('Under what').fill('the label of the port')
  await lacks.getByRole('button', { name: 'Propose it' }).click()
  await expect(lacks).toHaveCount(0)
  await signIn(page)
  await page.goto('/')
  const list = page.locator('#proposals')
  await expect(list).toContainText('At “card tray” a screw hides under the label of the port.')
  await clean(page)
  await page.locator('body').press('y')
  await expect(list).toHaveCount(0)
})
