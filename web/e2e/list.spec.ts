import { expect, test } from '@playwright/test'
import { gzipSync } from 'node:zlib'
import { readFileSync } from 'node:fs'
import { complaints, go, loft, url } from './helpers'

test('the list: copy, delete, undo, export, import', async ({ page, request }, info) => {
  const wrong = complaints(page)
  await page.goto(url())
  const rows = page.locator('main li')
  await expect(rows.filter({ hasText: 'Marlpit Puppet Loft, even' }).first()).toContainText('taut')
  const before = await rows.count()
  await page.getByRole('button', { name: 'Copy Marlpit Puppet Loft, even', exact: true }).click()
  await expect(rows).toHaveCount(before + 1)
  await page
    .getByRole('button', { name: 'Delete Marlpit Puppet Loft, even, copy', exact: true })
    .first()
    .click()
  await expect(rows).toHaveCount(before)
  await expect(page.getByText('was deleted')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(rows).toHaveCount(before + 1)

  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Export Marlpit Puppet Loft', exact: true }).click()
  const file = info.outputPath('loft.rig.json')
  await (await download).saveAs(file)
  expect(JSON.parse(readFileSync(file, 'utf8')).format).toBe('eventether-rig/1')

  await page.getByLabel('Import a rig file').setInputFiles(file)
  await expect(page).toHaveURL(/\/rigs\//)
  await expect(page.getByTestId('sentence')).toContainText('five moves')
  const again = await request.get(url(`/api${new URL(page.url()).pathname}/file`))
  expect(await again.text()).toBe(readFileSync(file, 'utf8'))
  expect(wrong).toEqual([])
})

test('a file that cannot be used says everything that is wrong, by place, and changes nothing', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  const good = await (await request.get(url(`/api/rigs/${id}/file`))).text()
  await page.goto(url())
  const rows = page.locator('main > ul > li')
  await expect(rows.first()).toBeVisible()
  const before = await rows.count()
  const drop = (name: string, text: string) =>
    page
      .getByLabel('Import a rig file')
      .setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) })
  const alert = page.getByRole('alert')

  await drop(
    'spoiled.json',
    good
      .replace('"to": "stick-bench.in"', '"to": "nowhere.in"')
      .replace('"from": "cam-face.hdmi"', '"from": "cam-face.sdi"'),
  )
  await expect(alert).toContainText(
    'leads[0] "bench-lead".to: "nowhere.in": there is no item "nowhere" in this rig',
  )
  await expect(alert).toContainText('has no port "sdi"; it has hdmi')
  await drop('typo.json', good.replace('"label": "Bench camera"', '"label": "Bench camera", "colour": "red"'))
  await expect(alert).toContainText('items[0] "cam-bench".colour')
  await drop('newer.json', good.replace('eventether-rig/1', 'eventether-rig/7'))
  await expect(alert).toContainText('is newer than this version')
  await drop('noise.json', 'x'.repeat(10_000_000))
  await expect(alert).toContainText('larger than 4 MB')
  await drop('cut.json', good.slice(0, 900))
  await expect(alert).toContainText('cut off')
  await expect(rows).toHaveCount(before)
})

test('a rig that was deleted says so at its address, cannot be changed, and comes back', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await request.delete(url(`/api/rigs/${id}`))
  for (const screen of ['', '/power']) {
    await page.goto(url(`/rigs/${id}${screen}`))
    await expect(page.getByTestId('deleted')).toContainText('This rig was deleted on')
  }
  await page.goto(url(`/rigs/${id}`))
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeDisabled()
  await page.getByRole('button', { name: 'Bring it back' }).click()
  await expect(page.getByTestId('deleted')).toHaveCount(0)
})

test('the bar overlaps nowhere, and every tab says which rig and screen it shows', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url('/rules'))
  for (const [screen, title] of [
    ['', 'Board'],
    ['/show', 'Show'],
    ['/ports', 'Ports'],
    ['/power', 'Power'],
    ['/send', 'Send'],
    ['/sound', 'Sound'],
    ['/run', 'Run sheet'],
    ['/costs', 'Costs'],
    ['/look', 'Look'],
  ]) {
    await go(page, `/rigs/${id}${screen}`)
    await expect(page).toHaveTitle(`Marlpit Puppet Loft, copy · ${title} · Even Tether`)
    for (const width of [1280, 1100, 940, 800, 620, 390]) {
      await page.setViewportSize({ width, height: 800 })
      const boxes = await page
        .getByTestId('bar')
        .locator('a, button')
        .evaluateAll((all) => all.map((e) => e.getBoundingClientRect().toJSON() as DOMRect))
      for (const [i, a] of boxes.entries())
        for (const b of boxes.slice(i + 1))
          expect(
            a.right <= b.left + 1 || b.right <= a.left + 1 || a.bottom <= b.top + 1 || b.bottom <= a.top + 1,
            `${title} at ${width}: ${JSON.stringify([a, b])}`,
          ).toBe(true)
      await expect
        .poll(() => page.evaluate(() => document.documentElement.scrollWidth), {
          message: `${title} at ${width}`,
        })
        .toBeLessThanOrEqual(width)
    }
  }
})

test('a deleted rig lies in the bin, and comes back from it', async ({ page, request }) => {
  const id = await loft(request)
  await request.post(url(`/api/rigs/${id}/edits`), {
    data: { from: 1, edits: [{ do: 'name', name: 'Thrown away' }], what: 'x' },
  })
  await page.goto(url('/'))
  await page.getByRole('button', { name: 'Delete Thrown away' }).click()
  await expect(page.getByRole('link', { name: 'Thrown away' })).toHaveCount(0)
  await page.reload()
  await page.getByText('Deleted rigs').click()
  await page.getByRole('button', { name: 'Bring it back: Thrown away' }).click()
  await expect(page.getByRole('button', { name: 'Delete Thrown away' })).toBeVisible()
})

test('history goes back to a state as a new one, and other tabs hear of what is kept', async ({
  page,
  context,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/costs`))
  const other = await context.newPage()
  await other.goto(url(`/rigs/${id}`))
  await expect(other.getByTestId('sentence')).toBeVisible()
  await other.getByRole('button', { name: /^Rename the rig/ }).click()
  await other.getByRole('textbox', { name: 'Rename the rig' }).fill('Other loft')
  await other.keyboard.press('Enter')
  await expect(page.getByTestId('bar')).toContainText('Other loft')
  await page.getByRole('button', { name: 'History' }).click()
  await page.getByRole('button', { name: 'Go back to revision 1' }).click()
  await expect(page.getByTestId('bar')).toContainText('Marlpit Puppet Loft')
  await expect(other.getByTestId('bar')).toContainText('Marlpit Puppet Loft')
  const past = (await (await request.get(url(`/api/rigs/${id}/history`))).json()) as { what: string }[]
  expect(past.length).toBe(3)
  expect(past[0]!.what).toContain('Back to revision 1')
})

test('the first script is small: the code of a screen comes when it is opened, and then all of them', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  const html = await (await request.get(url('/'))).text()
  const first = /<script type="module"[^>]* src="([^"]+)"/.exec(html)![1]!
  const body = await (await request.get(url(first))).body()
  expect(gzipSync(body).length).toBeLessThan(150_000)
  const screens = new Set<string>()
  page.on('response', (r) => {
    const name = /\/assets\/(\w+Page)-/.exec(r.url())?.[1]
    if (name) screens.add(name)
  })
  await page.goto(url('/rules'))
  await expect.poll(() => [...screens].sort().join(' ')).toMatch(/RulesPage.*TetherPage/)
  expect(wrong).toEqual([])
})
