import { expect, test } from '@playwright/test'
import { complaints, go, loft, sentence, url } from './helpers'

test('an inset is laid out, a window cuts it off, and the cure moves it in', async ({ page, request }) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/show`))
  await page.getByRole('button', { name: 'One more arrangement' }).click()
  const one = page.locator('[data-layout="0"]')
  await expect(one).toContainText('Bench camera large; Face camera at the bottom right, 25 % of the width')
  await page.getByRole('combobox', { name: 'Corner 1' }).selectOption('top-left')
  await expect(one).toContainText('Face camera at the top left')
  const size = page.getByRole('textbox', { name: 'Width of insets 1' })
  await size.fill('75')
  await size.press('Enter')
  await expect(one.getByRole('alert')).toContainText('out of bounds: 5 to 60 %')
  await expect(size).toHaveValue('75')
  await size.fill('20')
  await size.press('Enter')
  await expect(one).toContainText('20 % of the width')
  await page.getByRole('combobox', { name: 'Shown in a window of Class channel' }).selectOption('1:1')
  await expect(page.getByRole('button', { name: /^Undo: Class channel: Shown in/ })).toBeVisible()

  await go(page, `/rigs/${id}`)
  const found = page.locator('[data-finding^="window:"]')
  await expect(found).toContainText('reaches to 47.5 % of the width from the middle')
  await expect(page.locator('[data-part]')).toHaveCount(1)
  await found.getByRole('button', { name: 'Try' }).click()
  await page.getByRole('button', { name: /^Keep/ }).click()
  await expect(found).toHaveCount(0)

  // Two at once come to a call as one camera: what takes one composes nothing.
  await go(page, `/rigs/${id}/show`)
  await page.getByRole('combobox', { name: 'What takes the pictures', exact: true }).selectOption('call')
  await expect(page.getByRole('button', { name: /^Undo: .*call/i })).toBeVisible()
  await go(page, `/rigs/${id}`)
  await expect(page.locator('[data-finding^="arranged:"]')).toContainText(
    'takes one camera and composes nothing',
  )
  await expect(sentence(page)).toHaveAttribute('data-state', 'snapped')
  expect(wrong).toEqual([])
})

test('a switcher that is to change angles and is nowhere leads to putting one in', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/show`))
  await page.getByRole('combobox', { name: 'Who changes angles', exact: true }).selectOption('pedal')
  await expect(page.getByRole('button', { name: 'Undo: Who changes angles: pedal' })).toBeVisible()
  await go(page, `/rigs/${id}`)
  const found = page.locator('[data-finding="who-switches"]')
  await expect(found).toContainText('A pedal is to change angles, and none is in this rig')
  await found.getByRole('button', { name: 'Put in: keys or pedal …' }).click()
  await found.getByRole('button', { name: 'Foot pedal', exact: true }).click()
  await page.getByRole('button', { name: /^Keep/ }).click()
  await expect(found).toHaveCount(0)
  await expect(page.locator('[data-beside="foot-pedal"]')).toBeVisible()
})
