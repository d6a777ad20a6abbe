import { chromium } from 'playwright'
const [base, out, scheme='light', w='1280', h='800', count='2', mode='one'] = process.argv.slice(2)
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu',`--use-fake-device-for-media-stream=device-count=${count},fps=30`,'--use-fake-ui-for-media-stream',...(process.env.FILE?[`--use-file-for-fake-video-capture=${process.env.FILE}`]:[]),...(process.env.WAV?[`--use-file-for-fake-audio-capture=${process.env.WAV}`]:[])] })
const p = await (await b.newContext({ viewport: { width: +w, height: +h }, colorScheme: scheme })).newPage()
p.on('console', m => console.log('console', m.text())); p.on('pageerror', e => console.log('pageerror', e.message))
p.on('response', async r => { if (r.status() >= 400) console.log(r.status(), r.url(), (await r.text().catch(()=>'')).slice(0,300)) })
const rigs = await (await p.request.get(base + '/api/rigs')).json()
await p.goto(`${base}/rigs/${rigs.find(r => r.name === 'Marlpit Puppet Loft').id}/look`)
await p.getByRole('button', { name: 'Find cameras and microphones' }).click()
await p.getByTestId('device').first().waitFor({timeout:20000})
const rows = p.getByTestId('device')
console.log(await rows.count(), await rows.allInnerTexts())
if (mode === 'list') { await p.screenshot({ path: out }); await b.close(); process.exit() }
if (mode === 'one') {
  await rows.first().locator('select').first().selectOption({label:'Bench camera'})
  await rows.first().getByRole('button', { name: 'Look', exact: true }).click()
  await p.waitForTimeout(6000)
  await p.screenshot({ path: out })
  await p.getByTestId('looked').waitFor({timeout:30000})
  console.log(await p.getByTestId('looked').first().innerText())
  await p.getByTestId('looked').first().scrollIntoViewIfNeeded()
  await p.screenshot({ path: out.replace('.png','2.png') })
}
if (mode === 'all') {
  const choose = await rows.nth(0).locator('select').first().locator('option').allInnerTexts(); console.log(choose)
  const n = await rows.count()
  for (let i = 0; i < n; i++) { const s = rows.nth(i).locator('select').first(); const o = await s.locator('option').count(); await s.selectOption({ index: Math.min(2 + i % 3, o - 1) }) }
  await p.getByRole('button', { name: 'Look at everything' }).click()
  await p.getByTestId('together').waitFor({timeout:120000})
  console.log(await p.getByTestId('devices').innerText())
  await p.screenshot({ path: out, fullPage: true })
}
await b.close()
