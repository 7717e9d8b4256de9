import { answer, expect, signIn, test } from './bench'

/** From a key press to the paint of the reading, on a study of 300 steps and 120 parts. Prints figures for docs/benchmarks.md. */
test('the bench line on a large study', async ({ page }) => {
  await signIn(page)
  const send = async (path: string, data: object, type?: string) => {
    const headers: Record<string, string> = {
      'Idempotency-Key': crypto.randomUUID(),
    }
    if (type) headers['Content-Type'] = type
    const reply = await page.request.post(path, { headers, data })
    expect(reply.ok(), await reply.text()).toBe(true)
  }
  const [model, study, unit] = [1, 2, 3].map(() => crypto.randomUUID()) as [string, string, string]
  const parts = Array.from({ length: 120 }, (_, i) => ({
    name: `module ${i}`,
    family: 'BD',
    aliases: [`block ${i}`],
  }))
  const steps = Array.from({ length: 300 }, (_, i) => ({
    mark: `s${i}`,
    verb: i % 5 ? 'unfasten' : 'lift',
    what: i % 5 ? `bracket of module ${i % 120}` : `module ${i % 120}`,
    joint: i % 5 ? 'screw' : undefined,
    drive: i % 5 ? 'cross' : undefined,
    count: 2,
    after: i ? [[`s${i - 1}`]] : [],
    frees: i % 5 ? [] : [`module ${(i / 5) % 120}`],
  }))
  await send('/api/models', {
    id: model,
    maker: 'Pellow',
    name: 'Drift Large',
    entry: 'front',
  })
  await send(`/api/models/${model}/plan`, Buffer.from(JSON.stringify({ parts, steps })), 'application/octet-stream')
  await send('/api/studies', { id: study, model_id: model, title: 'Large' })
  await send(`/api/studies/${study}/units`, {
    id: unit,
    name: 'PINE',
    colour: 'green',
    shape: 'circle',
  })
  await page.goto(`/studies/${study}/strip`)
  await expect(answer(page)).toContainText('PINE')
  const field = page.getByRole('textbox', { name: 'Bench line of PINE' })
  await field.fill('? ready')
  await expect(page.locator('.echo')).toContainText('ready')
  await field.fill('')
  const times: number[] = []
  for (const text of ['u 2 cross bracket of module 7 ', 'l module 118 ', 'd block 33 '])
    for (const letter of text) {
      await page.evaluate(() => {
        const w = window as unknown as { took: Promise<number> }
        w.took = new Promise((done) =>
          document
            .querySelector('#bench-line')!
            .addEventListener(
              'input',
              (e) => requestAnimationFrame(() => setTimeout(() => done(performance.now() - e.timeStamp))),
              { once: true },
            ),
        )
      })
      await page.keyboard.press('End')
      await field.pressSequentially(letter)
      times.push(await page.evaluate(() => (window as unknown as { took: Promise<number> }).took))
      if (letter === ' ' && text.trim().length + 1 === (await field.inputValue()).length) await field.fill('')
    }
  times.sort((a, b) => a - b)
  const at = (q: number) => times[Math.floor((times.length - 1) * q)]!.toFixed(1)
  console.log(
    `FLUENCY input to paint, ms: median ${at(0.5)}, 95 % ${at(0.95)}, of ${times.length} keys on 300 steps and 120 parts`,
  )
})

/** What the first page weighs and when its largest part is painted, on a processor of a quarter of the speed. */
test('the first page', async ({ page }) => {
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: 4 })
  await page.addInitScript(() => {
    const w = window as unknown as { largest: number }
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) w.largest = e.startTime
    }).observe({ type: 'largest-contentful-paint', buffered: true })
  })
  await page.goto('/')
  await expect(answer(page)).toHaveText('How sure are we?')
  await page.waitForTimeout(1500)
  const { largest, weight } = await page.evaluate(() => ({
    largest: (window as unknown as { largest: number }).largest,
    weight: [...performance.getEntriesByType('resource'), ...performance.getEntriesByType('navigation')].reduce(
      (sum, e) => sum + (e as PerformanceResourceTiming).transferSize,
      0,
    ),
  }))
  expect(largest).toBeGreaterThan(0)
  console.log(
    `FLUENCY first page: ${Math.round(weight / 1024)} kB, largest paint at ${Math.round(largest)} ms at a quarter of the speed`,
  )
})
