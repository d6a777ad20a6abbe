import { chromium } from '@playwright/test'
const [,, out, path, w='1280', h='800', theme='light', script=''] = process.argv
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] })
const p = await b.newPage({ viewport: { width: +w, height: +h } })
p.on('console', m => m.type()==='error' && console.log('console:', m.text()))
p.on('pageerror', e => console.log('pageerror:', e.message))
await p.addInitScript(t => localStorage.setItem('theme', t), theme)
let base='http://127.0.0.1:4300'
let target = path
if (path.startsWith('rig:')) {
  const [name, rest=''] = path.slice(4).split('|')
  const rigs = await (await fetch(base+'/api/rigs')).json()
  target = '/rigs/' + rigs.find(r=>r.name===name).id + rest
}
await p.goto(base+target)
await p.waitForTimeout(1500)
if (script) await eval('(async()=>{'+script+'})()')
await p.waitForTimeout(300)
await p.screenshot({ path: out })
await b.close()
