import { expect, test, type Page } from '@playwright/test'
import { complaints, loft, url } from './helpers'

const setup = (page: Page) => page.getByRole('textbox', { name: 'Setting up' })
async function set(page: Page, minutes: string) {
  await setup(page).fill(minutes)
  await setup(page).press('Enter')
}

test('another device sees what is kept at once; different things merge, of the same thing both values are shown', async ({
  browser,
  page,
  request,
}) => {
  const wrong = complaints(page)
  const id = await loft(request)
  const other = await (await browser.newContext()).newPage()
  await page.goto(url(`/rigs/${id}/show`))
  await other.goto(url(`/rigs/${id}/show`))
  await expect(setup(page)).toHaveValue('60')
  await expect(setup(other)).toHaveValue('60')
  await set(other, '45')
  await expect(setup(page), 'told by the server').toHaveValue('45')
  await other.close()

  // One that hears of nothing: its next change comes on top of what it has not seen.
  const deaf = await (await browser.newContext()).newPage()
  await deaf.route('**/api/events', (r) => r.abort())
  await deaf.goto(url(`/rigs/${id}/show`))
  await expect(setup(deaf)).toHaveValue('45')
  await page.getByRole('textbox', { name: 'Rehearsal' }).fill('20')
  await page.getByRole('textbox', { name: 'Rehearsal' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Undo: Rehearsal: 20 min' })).toBeVisible()
  await set(deaf, '50')
  await expect(deaf.getByRole('textbox', { name: 'Rehearsal' })).toHaveValue('20')
  await expect(setup(deaf)).toHaveValue('50')
  await expect(setup(page)).toHaveValue('50')

  await set(page, '70')
  await expect(page.getByRole('button', { name: 'Undo: Setting up: 70 min' })).toBeVisible()
  await set(deaf, '80')
  const clash = deaf.getByTestId('clash')
  await expect(clash).toContainText('Somebody else changed the same thing meanwhile')
  await expect(clash.locator('tbody')).toContainText('8070')
  await clash.getByRole('button', { name: 'Leave theirs' }).click()
  await expect(clash).toHaveCount(0)
  await expect(setup(deaf)).toHaveValue('70')

  await set(page, '75')
  await expect(page.getByRole('button', { name: 'Undo: Setting up: 75 min' })).toBeVisible()
  await set(deaf, '85')
  await clash.getByRole('button', { name: 'Keep mine' }).click()
  await expect(setup(page)).toHaveValue('85')
  await expect(clash).toHaveCount(0)
  expect(wrong).toEqual([])
})
