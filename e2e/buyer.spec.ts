import { Buffer } from 'node:buffer'

import { answer, choose, clean, expect, fits, signIn, study, test } from './bench'

/** The buyer's path: from price lists to a stocked shelf, on the demo world. */

const lists = {
  // Decimal commas; nothing says whether 1.250 is a little or a lot but its neighbours.
  north: [
    'Verkäufer;code;item;slot;quality;unit price;qty',
    'North Quay Spares;nq-b4;battery, boxed;battery;OEM;18,40;12',
    'North Quay Spares;nq-d4;display assembly, new;display;OEM;105,00;4',
    'North Quay Spares;nq-p4;charge port, new;charge-port;OEM;12,20;9',
    'North Quay Spares;nq-g4;gasket;gasket;OEM;2,10;30',
  ].join('\n'),
  // Heads in another order, a currency sign, and one figure that could be two.
  lantern: [
    'Price each\tArticle no\tSold by\tPart\tCondition\tDescription\tAvailable',
    '€7.900\tlr-9\tLantern Row Parts\tcharge port\tpulled\tcharge port, taken out\t6',
    '€52.105\tlr-10\tLantern Row Parts\trear camera\tsalvaged\trear camera block, checked\t3',
  ].join('\n'),
}

async function paste(page: import('@playwright/test').Page, text: string, model = 'Drift 4') {
  await page.goto('/parts?face=list')
  await page.getByLabel('Rows of a list').fill(text)
  await page.getByLabel('Rows of a list').blur()
  if (!model) return
  await expect(page.getByText('Still needed: for the model')).toBeVisible()
  await choose(page, page, 'For the model, where no column says it', `Pellow ${model}`)
}

test('from price lists to a stocked shelf', async ({ page, refusals }) => {
  refusals.push(/422/) // an order that is asked about first
  await signIn(page, 'buyer')
  const s = await study(page, 'Drift 4, first pair')

  // A list with decimal commas; its seller's column is named in another tongue and is said once.
  await paste(page, lists.north)
  await expect(page.getByText('Still needed: seller')).toBeVisible()
  await choose(page, page, 'Column: seller', 'Verkäufer')
  await expect(answer(page)).toContainText('3 new, 1 changed: nothing is put in yet')
  await expect(
    page.getByRole('row', { name: /battery, boxed, original, for the Pellow Drift 4: battery, 18\.40 EUR/ }),
  ).toBeVisible()
  await clean(page)
  await page.getByRole('button', { name: 'Put in 3 new, 1 changed' }).click()
  await expect(answer(page)).toContainText('Put in: 3 new, 1 changed')

  // The same list again doubles nothing; a later one changes a price, and its answer of before is remembered.
  await paste(page, lists.north)
  await choose(page, page, 'Column: seller', 'Verkäufer')
  await expect(answer(page)).toContainText('4 as it was: nothing is put in yet')
  await expect(page.getByRole('button', { name: /^Put in/ })).toBeDisabled()

  // A list with a sign and one figure that could be two: asked once for the column, told by what it would be.
  await paste(page, lists.lantern)
  const question = page.getByRole('group', { name: /decimal mark/ })
  await expect(question).toBeVisible()
  await clean(page)
  await question.getByRole('button', { name: /^a point:/ }).click()
  await expect(page.getByRole('group', { name: /decimal mark/ })).toHaveCount(0)
  await expect(answer(page)).toContainText('1 wrong')
  await expect(page.getByText(/finer than/).first()).toBeVisible() // a tenth of a cent
  await page.getByLabel('Line 3, column A, written anew').fill('52.10')
  await page.keyboard.press('Enter')
  await expect(answer(page)).toContainText(/2 (new|changed)|1 new, 1 changed/)
  await page.getByRole('button', { name: /^Put in/ }).click()
  await expect(answer(page)).toContainText('Put in:')

  // A file, for another model by its column, with a price that is later than an earlier list.
  await page.goto('/parts?face=list')
  await page.locator('input[type=file]').setInputFiles({
    name: 'third.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'model,seller,code,title,covers,grade,price,currency\n' +
        'Drift 4,North Quay Spares,nq-b4,"battery, boxed",battery,original,17.90,EUR\n' +
        'Drift 3,North Quay Spares,nq-b3,"battery, boxed",battery,original,14.20,EUR\n',
    ),
  })
  await expect(answer(page)).toContainText('2 changed: nothing')
  await expect(page.getByText('price 17.90 EUR, was 18.40 EUR')).toBeVisible()
  await page.getByRole('button', { name: /^Put in/ }).click()
  await expect(answer(page)).toContainText('Put in:')
  await expect(page.locator('#imports li')).toHaveCount(3)

  // A workbook with days as days: what the desk gives out is read back, and is all as it was.
  const book = await page.request.get(`/api/models/${s.model}/desk/offers/xlsx`)
  await page.goto('/parts?face=list')
  await page.locator('input[type=file]').setInputFiles({
    name: 'own.xlsx',
    mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    buffer: await book.body(),
  })
  await expect(page.getByText('Still needed: for the model')).toBeVisible()
  await choose(page, page, 'For the model, where no column says it', 'Pellow Drift 4')
  await expect(answer(page)).toContainText(/^\d+ as it was: nothing is put in yet/)

  // What is needed next month, with a part put on the list by hand and a whole job of another model.
  await page.goto('/parts')
  await choose(page, page, 'How far ahead', 'next month')
  await page.locator('body').press('a')
  const form = page.getByRole('dialog')
  await choose(page, form, 'For the model', 'Pellow Drift 4')
  await form.getByRole('textbox', { name: /^Part/ }).fill('gasket')
  await form.getByRole('spinbutton', { name: 'Pieces' }).fill('3')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByRole('row', { name: /gasket.*Pellow Drift 4/ })).toBeVisible()
  await page.getByRole('button', { name: 'A whole build' }).click()
  await choose(page, form, 'Which model is built', 'Pellow Drift 3')
  await choose(page, form, 'For what it is built', 'battery job')
  await form.getByRole('button', { name: 'Put it on the list' }).click()
  await expect(form).toHaveCount(0)
  await expect(page.getByRole('row', { name: /for a battery job/ }).first()).toBeVisible()
  await expect(answer(page)).toContainText(/Order\s+\d+\s+parts\s+from\s+\d\s+sellers?\s+for/)
  await clean(page)
  await fits(page)

  // Copies too: the lot that failed stays out, named; it may be taken with a reason, and is left out again.
  await page.getByText('copies too').click()
  await expect(page.getByRole('list', { name: 'Left out' })).toContainText('3 of 14 inspected pieces were bad')
  await page.getByText('copies too').click()
  await expect(page.getByRole('list', { name: 'Left out' })).toHaveCount(0)

  // Enter makes the orders: what is asked first is asked, nothing is sent.
  await page.locator('body').press('Enter')
  const ask = page.getByRole('alertdialog', { name: 'Before it is ordered' })
  await expect(page.getByText('Nothing was sent').or(ask)).toBeVisible()
  if (await ask.isVisible()) await ask.getByRole('button', { name: 'Order it all the same' }).click()
  await expect(page.getByText('Nothing was sent')).toBeVisible()
  await page
    .getByRole('button', { name: /^order \d{4}-\d{4}$/ })
    .first()
    .click()
  await expect(answer(page)).toContainText('draft: not sent yet')
  await clean(page)
  const id = new URL(page.url()).searchParams.get('order')!
  const pdf = await page.request.get(`/api/orders/${id}/pdf`)
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-')
  expect(await (await page.request.get(`/api/orders/${id}/csv`)).text()).toMatch(
    /^no,code,title,quantity,unit price,currency,sum\r\n1,/,
  )
  await page.getByRole('button', { name: 'I sent it' }).click()
  await expect(answer(page)).toContainText('on its way; due')

  // One line comes short and with two bad pieces; it is booked against the order, and a claim is written.
  const order = await (await page.request.get(`/api/orders/${id}`)).json()
  const line =
    order.rows.find((l: { covers: Record<string, number> }) => l.covers.battery || l.covers.gasket) ?? order.rows[0]
  await page.getByRole('button', { name: `Receive line ${line.no}`, exact: true }).click()
  await form.getByRole('spinbutton', { name: 'Came' }).fill(String(line.quantity + 1))
  await form.getByRole('spinbutton', { name: 'Bad' }).fill('1')
  await form.getByLabel('Lot, as on the delivery').fill('q-31')
  await form.getByLabel('Where they lie').fill('drawer C1')
  await form.getByLabel('Why, one a line').fill('swollen')
  await form.getByRole('button', { name: 'Book it' }).click()
  await expect(form.getByText(/more came than are open/).first()).toBeVisible()
  await choose(page, form, 'What becomes of the rest', 'sent back')
  await form.getByRole('button', { name: 'Book it' }).click()
  await expect(form).toHaveCount(0)
  await expect(page.locator('#claims')).toContainText('1 bad of line')
  await page.locator('#claims').getByRole('button', { name: 'It was told' }).click()
  await expect(page.locator('#claims')).toContainText(': told')

  // The lot is among the deliveries to look at; the rest of the order is on its way, or written off.
  await page.goto('/parts?face=incoming')
  await expect(page.getByText('lot q-31')).toBeVisible()
  const desk = await (await page.request.get(`/api/parts?model=${s.model}`)).json()
  expect(desk.deliveries.some((d: { lot: string; order_id: string }) => d.lot === 'q-31' && d.order_id === id)).toBe(
    true,
  )
  // A list is taken back as one: what was ordered of it stays, and is named.
  await page.goto('/parts?face=list')
  await page.getByRole('button', { name: 'Take it back: third.csv' }).click()
  await expect(page.locator('#imports li').first()).toContainText('taken back')
})

test('many offers are out of stock at once, and back at once', async ({ page }) => {
  await signIn(page, 'buyer')
  const s = await study(page, 'Drift 4, first pair')
  await page.goto(`/parts?face=record&model=${s.model}&offer.find=screws`)
  const row = page.getByRole('row', { name: /screws, full set/ })
  await row.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Out of stock' }).click()
  await expect(page.getByText('Changed.')).toBeVisible()
  const stock = async () => {
    const desk = await (await page.request.get(`/api/parts?model=${s.model}&of=offers`)).json()
    return desk.offers.find((o: { title: string }) => o.title === 'screws, full set').stock
  }
  expect(await stock()).toBe(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(stock).toBe(5)
})

test('a late order is on the first page, is asked for, and its rest is written off', async ({ page }) => {
  await signIn(page, 'buyer')
  await page.goto('/')
  await page.getByRole('link', { name: /Ask Lantern Row Parts for order/ }).click()
  await expect(answer(page)).toContainText(/days late, asked 1 time/)
  await page.getByRole('button', { name: 'I asked where it is' }).click()
  await expect(answer(page)).toContainText('asked 2 times')
  await page.getByRole('button', { name: 'Write off the rest of line 1' }).click()
  await page.getByLabel('Why the rest is written off').fill('the seller has none')
  await page.getByRole('button', { name: 'Write off', exact: true }).click()
  await expect(answer(page)).toContainText('all of it is here')
  await expect(page.getByText('2 written off: the seller has none')).toBeVisible()
})

for (const [w, h] of [
  [1280, 800],
  [390, 844],
] as const)
  test(`what to buy, a list and an order are clean at ${w}×${h}, with and without data`, async ({ page }) => {
    await page.setViewportSize({ width: w, height: h })
    await signIn(page, 'buyer')
    const orders = await (await page.request.get('/api/orders')).json()
    for (const face of ['buy', 'list', 'order', `order&order=${orders.orders[0].id}`]) {
      await page.goto(`/parts?face=${face}`)
      await expect(answer(page)).not.toContainText('Reading')
      await expect(answer(page)).toBeVisible()
      await clean(page)
      await fits(page)
    }
  })

test.describe('an empty desk', () => {
  test.use({ empty: true })
  test('says what to do first', async ({ page }) => {
    await signIn(page, 'buyer')
    await page.goto('/parts')
    await expect(answer(page)).toContainText('Nothing is short')
    await clean(page)
    await page.goto('/parts?face=list')
    await expect(answer(page)).toContainText('A seller’s list: paste it')
    await clean(page)
  })
})
