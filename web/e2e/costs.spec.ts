import { expect, test } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { complaints, loft, url } from './helpers'

test('costs: totals, what a cure costs, the shopping list, and another rig beside it', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/costs`))
  await expect(page.getByTestId('open')).toContainText('1915.00 EUR in all')
  await expect(page.getByTestId('totals')).toContainText('Left of the budget')
  await expect(page.getByTestId('cures')).toContainText('so that the rig holds')
  const file = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Shopping list (CSV)' }).click()
  expect(readFileSync(await (await file).path(), 'utf8')).toMatch(/^what,name,why,amount,currency/)
  await page.getByLabel('Choose a rig').selectOption({ label: 'Marlpit Puppet Loft, even' })
  await expect(page.getByTestId('beside')).toContainText('Set-up alone')
  await expect(page.getByTestId('beside')).toContainText('taut')
  expect(wrong).toEqual([])
})
