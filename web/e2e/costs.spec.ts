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
  for (const row of [
    'composed 1920×1080 at 29.97',
    'Plugs to move for that1',
    '1959.50 EUR',
    'it carries 296.7 MHz for 2.5 to 10 m',
    'nothing is over a limit',
  ])
    await expect(page.getByTestId('beside')).toContainText(row)
  expect(wrong).toEqual([])
})

test('whose a thing is, its price, and where habits differ: the verdict follows the choice', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/costs`))
  await page.getByRole('combobox', { name: 'Whose is Bench camera' }).selectOption('borrowed')
  await expect(page.getByTestId('totals')).toContainText('borrowed, in no other sum')
  await expect(page.getByTestId('totals')).toContainText('1275.00 EUR')
  const price = page.getByRole('textbox', { name: 'Price Roving phone' })
  await price.fill('ninety')
  await price.press('Enter')
  await expect(page.getByRole('alert')).toContainText('Price Roving phone: “ninety” is no amount')
  await expect(price).toHaveValue('ninety')
  await price.fill('eur 90,00')
  await price.press('Enter')
  await expect(page.getByTestId('totals')).toContainText('1365.00 EUR')

  const power = page.locator('[data-habit="power"]')
  await power.locator('summary').click()
  await expect(power).toContainText('the camera stays cooler')
  const over = page.getByRole('main').getByText('Holds after five moves')
  await expect(over).toBeVisible()
  await power.locator('li', { hasText: 'From the mains' }).getByRole('button', { name: 'Do it so' }).click()
  await expect(power.locator('li', { hasText: 'From the mains' })).toHaveAttribute('data-now', 'true')
  await expect(page.getByRole('main')).toContainText('Holds after four moves')
  expect(wrong).toEqual([])
})
