import { chromium } from '@playwright/test'
import fs from 'node:fs'
const steps = JSON.parse(fs.readFileSync('/tmp/look.json'))
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-background-networking'] })
const ctx = await b.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' })
const page = await ctx.newPage()
page.on('console', (m) => ['error','warning'].includes(m.type()) && console.log('console', m.text().slice(0,300)))
page.on('pageerror', (e) => console.log('pageerror', e.message))
await page.request.post('http://localhost:8477/api/session', { data: { name: 'analyst', password: 'demo-analyst' } })
const models = await (await page.request.get('http://localhost:8477/api/models')).json()
const id = Object.fromEntries(models.map((m) => [m.name, m.id]))
const studies = await (await page.request.get('http://localhost:8477/api/studies')).json()
for (const s of studies) id[s.study.title] = s.study.id
for (const s of steps) {
  if (s.size) await page.setViewportSize({ width: s.size[0], height: s.size[1] })
  if (s.theme) await page.evaluate((t) => { localStorage.setItem('waryowl-theme', t); document.documentElement.dataset.theme = t }, s.theme)
  if (s.go) { await page.goto('http://localhost:8477' + s.go.replace(/\{([^}]+)\}/g, (_, n) => id[n])); await page.waitForTimeout(s.wait ?? 1500) }
  if (s.click) { await page.locator(s.click).first().click({ timeout: 5000 }); await page.waitForTimeout(500) }
  if (s.press) { await page.keyboard.press(s.press); await page.waitForTimeout(600) }
  if (s.fill) { await page.locator(s.fill[0]).first().fill(s.fill[1]) }
  if (s.scroll !== undefined) { await page.evaluate((y) => window.scrollTo(0, y), s.scroll); await page.waitForTimeout(300) }
  if (s.shot) await page.screenshot({ path: `/tmp/shots/${s.shot}.png`, fullPage: !!s.full })
}
await b.close()
