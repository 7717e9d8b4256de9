// throwaway: node shot.tmp.mjs script.mjs
import { chromium } from '@playwright/test'
import { pathToFileURL } from 'node:url'
const base = process.env.BASE ?? 'http://127.0.0.1:8431'
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-background-networking'] })
const role = process.env.ROLE ?? 'analyst'
const ctx = await browser.newContext({ viewport: { width: +(process.env.W ?? 1280), height: +(process.env.H ?? 800) }, baseURL: base, colorScheme: process.env.NIGHT ? 'dark' : 'light' })
const page = await ctx.newPage()
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text()))
page.on('pageerror', (e) => console.log('PAGEERROR', e.message))
if (role !== 'none') await page.request.post('/api/session', { data: { name: role, password: role === 'admin' ? 'demo-admin-office' : `demo-${role}` } })
const list = role === 'none' ? [] : await (await page.request.get('/api/studies')).json()
const study = (t) => list.find((c) => c.study.title === t) ?? list[0]
const shot = async (name) => { await page.screenshot({ path: `/tmp/shots/${name}.png` }); console.log('shot', name) }
const mod = await import(pathToFileURL(process.argv[2]))
try { await mod.default({ page, study, shot, list, ctx }) } catch (e) { console.log('ERR', e.message.slice(0, 600)); await shot('error') }
await browser.close()
