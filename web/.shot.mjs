import { chromium } from 'playwright-core'
const [,, out, path, theme='light', width='1280', height='800', full=''] = process.argv
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] })
const p = await b.newPage({ viewport: { width: +width, height: +height } })
await p.addInitScript((t) => localStorage.setItem('theme', t), theme)
p.on('pageerror', (e) => console.log('PAGE ERROR', e.message))
await p.goto('http://127.0.0.1:4300' + path)
if (process.env.CLIP) { await p.waitForSelector('[data-testid=drop]'); if (process.env.OF) await p.selectOption('[data-testid=drop] select', process.env.OF); await p.setInputFiles('input[type=file]', process.env.CLIP); await p.waitForSelector('[data-testid=inspected]', { timeout: 120000 }) }
await p.waitForTimeout(1200)
if (process.env.ACT) await eval('(async()=>{' + process.env.ACT + '})()')
await p.screenshot({ path: out, fullPage: !!full })
await b.close()
