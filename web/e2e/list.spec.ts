import { expect, test } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { complaints, loft, url } from './helpers'

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
  await expect(page.getByTestId('sentence')).toContainText('four moves')
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
