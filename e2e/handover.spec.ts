import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

import { answer, clean, expect, fits, home, signIn, study, test } from './bench'

/** Files that leave the house and files that come in. */

const demo = 'Drift 4, first pair'

test('what may be said is told apart from what may not, and the sheet leaves as one file or as PDF', async ({
  page,
}) => {
  await signIn(page, 'technician')
  const s = await study(page, demo)
  await page.goto(`/studies/${s.id}/handover`)
  await expect(page.locator('#claims')).toContainText("Another phone's battery loses battery health shown, on 4.1.2.")
  await page.getByText(/claims that the evidence does not carry/).click()
  await expect(page.locator('#claims s').filter({ hasText: 'Every battery tab comes out whole' })).toBeVisible()
  await expect(page.getByText('not tested: interested party')).toBeVisible()
  for (const box of ['parts and map', 'swap chart', 'what stands in', 'ways in to the common jobs'])
    await page.getByText(box, { exact: true }).click()
  const opened = page.waitForEvent('popup')
  await page.getByRole('link', { name: 'Look at it' }).click()
  const sheet = await opened
  await expect(sheet.getByRole('heading', { level: 1 })).toContainText(demo)
  await expect(sheet.getByRole('heading', { name: 'Screw sheet, true to scale' })).toBeVisible()
  await expect(sheet.getByRole('heading', { name: 'Parts' })).toHaveCount(0)
  await expect(sheet.getByText('Advice only.')).toBeVisible()
  const cell = await sheet.locator('.mat > div').first().boundingBox()
  expect(Math.abs(cell!.width - (34 / 25.4) * 96)).toBeLessThan(0.6) // 34 mm in CSS pixels
  const down = page.waitForEvent('download')
  await page.getByRole('link', { name: 'PDF', exact: true }).click()
  const pdf = readFileSync(await (await down).path())
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
})

test('a broken table is refused by line and column, mended, and put in', async ({ page, refusals }) => {
  refusals.push(/422/)
  await signIn(page)
  const s = await study(page, demo)
  await page.goto(`/studies/${s.id}/handover`)
  const give = (text: string) =>
    page
      .getByLabel('A table, CSV or XLSX')
      .setInputFiles({ name: 'parts.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await give('name,family,width (mm)\nheat foil,FR,12\nhaptic lead,ZZ,wide\n')
  await expect(page.getByText('2 rows: 2 new, 0 changed, 0 as they were, 2 wrong.')).toBeVisible()
  await expect(page.getByText(/line 3, column C “width \(mm\)”: "wide" is no number/)).toBeVisible()
  await expect(page.getByText(/line 3, column B “family”/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Put in 2 rows' })).toBeDisabled()
  await clean(page)
  await give('Bauteil;family;width (mm)\nheat foil;FR;12,5\nhaptic lead;SO;4\n')
  await expect(page.getByText('no column is “name”')).toBeVisible()
  const column = page.getByRole('combobox', { name: 'Column for name' })
  await column.focus()
  await page.keyboard.press('Enter')
  await page.locator('.el-select-dropdown:visible').getByRole('option', { name: 'Bauteil' }).click()
  await page.getByRole('button', { name: 'Put in 2 rows' }).click()
  await expect(page.getByText('Put in: 2 new, 0 changed, 0 as they were.')).toBeVisible()
  const parts = await (await page.request.get(`/api/models/${s.model}/tables/parts/csv`)).text()
  expect(parts).toContain('heat foil,FR,,,,,,12.5')
  await give('\u0000\u0001')
  await expect(page.getByRole('alert').or(page.getByText('no column is “name”')).first()).toBeVisible()
})

test('a whole document goes out and comes in as another model; a printed code leads to its part', async ({
  page,
  refusals,
}) => {
  refusals.push(/422/)
  await signIn(page)
  const s = await study(page, demo)
  const out = await page.request.get(`/api/models/${s.model}/document`)
  expect(out.headers()['content-disposition']).toContain('attachment')
  const text = await out.text()
  expect(text).toContain('"part battery"')
  await page.goto(`/studies/${s.id}/handover`)
  await page
    .getByLabel('A whole document')
    .setInputFiles({ name: 'drift.json', mimeType: 'application/json', buffer: Buffer.from(text) })
  await page.getByRole('button', { name: 'Put it in as a new model' }).click()
  await expect(page.getByText(/a name that is not on record for Pellow/)).toBeVisible()
  await page.getByLabel('Another name for the model').fill('Drift 4 copy')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/models\/.*\/ways/)
  await expect(answer(page)).toContainText('13 steps')

  const labels = await page.request.get(`/api/studies/${s.id}/labels`)
  expect(labels.headers()['content-type']).toContain('pdf')
  const room = await (await page.request.get(`/api/studies/${s.id}/swap`)).json()
  const battery = room.slots.find((p: { name: string }) => p.name === 'battery').id as string
  const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567' // RFC 4648
  const bits = [...battery.replaceAll('-', '')].map((h) => parseInt(h, 16).toString(2).padStart(4, '0')).join('')
  const code = `WOP${bits
    .match(/.{1,5}/g)!
    .map((b) => letters[parseInt(b.padEnd(5, '0'), 2)])
    .join('')}`
  await home(page)
  await page.keyboard.type(code)
  await expect(page).toHaveURL(new RegExp(`/parts/${battery}`))
  await expect(answer(page)).toContainText('Drift 4, battery: whole repair 39 min')
})

test('a label is read by the camera', async ({ page }) => {
  await signIn(page)
  const s = await study(page, demo)
  const labels = await (await page.request.get(`/api/studies/${s.id}/labels`)).body()
  const folder = mkdtempSync(join(tmpdir(), 'labels-'))
  try {
    writeFileSync(join(folder, 'labels.pdf'), labels)
    // The first label, a phone's, as a camera would see it: grey levels of 200 dots an inch.
    execFileSync(
      'pdftoppm',
      [
        '-r',
        '200',
        '-gray',
        '-x',
        '80',
        '-y',
        '100',
        '-W',
        '300',
        '-H',
        '240',
        '-f',
        '1',
        '-l',
        '1',
        'labels.pdf',
        'label',
      ],
      { cwd: folder },
    )
    const file = readdirSync(folder).find((f) => f.endsWith('.pgm'))!
    const grey = readFileSync(join(folder, file)).subarray(-300 * 240)
    await page.addInitScript(
      (levels: number[]) => {
        navigator.mediaDevices.getUserMedia = async () => {
          const canvas = document.createElement('canvas')
          canvas.width = 300
          canvas.height = 240
          const draw = canvas.getContext('2d')!
          const image = draw.createImageData(300, 240)
          levels.forEach((l, i) => image.data.set([l, l, l, 255], 4 * i))
          setInterval(() => draw.putImageData(image, 0, 0), 100)
          return canvas.captureStream()
        }
      },
      [...grey],
    )
    await page.goto('/')
    await page.getByRole('button', { name: 'Read a label' }).click()
    await expect(page).toHaveURL(new RegExp(`/studies/${s.id}/strip`))
  } finally {
    rmSync(folder, { recursive: true })
  }
})

test('the hand-over fits a narrow screen', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await signIn(page)
  const s = await study(page, demo)
  await page.goto(`/studies/${s.id}/handover`)
  await expect(page.locator('#claims')).toBeVisible()
  await fits(page)
})
