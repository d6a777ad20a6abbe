import { expect, test } from '@playwright/test'
import { complaints, loft, url } from './helpers'

test('ways of sound: what is planned, what is judged, and one added', async ({ page, request }) => {
  const wrong = complaints(page)
  const id = await loft(request, 'Marlpit Puppet Loft, even')
  await page.goto(url(`/rigs/${id}/sound`))
  await expect(page.getByTestId('open')).toContainText('limits of sound hold')
  await expect(page.getByTestId('ways')).toContainText('Face camera · muted')
  await expect(page.getByTestId('delays')).toContainText('140 as set')

  // The camera's microphone is opened beside the lapel one: one voice by two ways.
  const camera = page.locator('[data-way="cam-face"]')
  await camera.locator('summary').click()
  await camera.getByRole('combobox', { name: 'Ida by Face camera' }).selectOption('air')
  await expect(page.getByTestId('open')).toContainText('Way of Ida to air')
  await expect(page.locator('main')).toContainText('Heard twice it is hollow')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.locator('main')).not.toContainText('Heard twice it is hollow')

  await page.getByLabel('Whose voice, or which sound').fill('Bo')
  await page.getByLabel('Picked up by').selectOption({ label: 'Bench camera' })
  await page.getByRole('button', { name: 'Add a way of sound' }).click()
  await expect(page.getByTestId('ways')).toContainText('Bo')
  await expect(page.locator('main')).toContainText('Bo by Bench camera is picked up at')
  expect(wrong).toEqual([])
})

test('the delay the claps ask for, a late stick, and a microphone of the shelf: each with one press', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  const id = await loft(request, 'Marlpit Puppet Loft, even')
  await page.goto(url(`/rigs/${id}/sound`))
  const delays = page.getByTestId('delays')
  await delays.getByRole('button', { name: 'by the claps: set 128' }).click()
  await expect(delays).toContainText('128 as set')
  await expect(delays.getByRole('button', { name: /by the claps/ })).toHaveCount(0)

  const bench = delays.locator('details', { hasText: 'Bench camera' }).first()
  await bench.locator('summary').click()
  await bench.getByRole('button', { name: 'Change: Four-K stick delays the picture by' }).click()
  const late = bench.getByRole('textbox', { name: 'Four-K stick delays the picture by', exact: true })
  await late.fill('0,2 s')
  await bench.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(bench).toContainText('Four-K stick: 200 ms, as stated')

  await page.getByLabel('Whose voice, or which sound').fill('Bo')
  await page.getByLabel('Picked up by').selectOption({ label: 'USB microphone' })
  await page.getByRole('button', { name: 'Add a way of sound' }).click()
  await expect(page.getByTestId('ways')).toContainText('USB microphone')
  await expect(page.locator('main')).toContainText('Bo by USB microphone')
  await expect(page.getByRole('button', { name: 'Undo: Bo: Add a way of sound' })).toBeVisible()
  expect(wrong).toEqual([])
})

test('a rig of which nobody has described the sound says so', async ({ page, request }) => {
  const id = await loft(request, 'Village hall on tour')
  const file = (await (await request.get(url(`/api/rigs/${id}/file?revision=1`))).json()) as object
  const made = await request.post(url('/api/rigs'), { data: { ...file, sound: undefined } })
  await page.goto(url(`/rigs/${((await made.json()) as { id: string }).id}/sound`))
  await expect(page.getByTestId('open')).toContainText('not judged')
  await page.setViewportSize({ width: 390, height: 844 })
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390)
})

test('five claps are one measurement, with the least and the most; what is no number is said', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/sound`))
  const way = page.locator('details[data-way]').first()
  await way.locator('summary').click()
  const claps = way.getByLabel(/^Claps/)
  await claps.fill('112 109 kites')
  await way.getByRole('button', { name: 'Take the middle' }).click()
  await expect(way.getByRole('alert')).toContainText('“kites” is not a number')
  await expect(claps).toHaveValue('112 109 kites')
  await claps.fill('112 109 114 131 110')
  await way.getByRole('button', { name: 'Take the middle' }).click()
  await expect(way).toContainText('109 to 131')
})

test('which input a voice goes into: the first that is free, what is typed, and what is none', async ({
  page,
}) => {
  const wrong = complaints(page)
  await page.goto(url('/'))
  await page.getByRole('button', { name: 'Say it in lines' }).click()
  await page
    .getByTestId('from-text')
    .locator('textarea')
    .fill(
      'PC [Laptop]\nCam A [Camcorder]\nAda > Lapel microphone on a lead > Box [Interface with two inputs] > PC',
    )
  await page.keyboard.press('Control+Enter')
  await page.waitForURL(/\/rigs\/[0-9a-f-]{36}$/)
  await page.goto(page.url() + '/sound')
  const way = page.locator('details[data-way]').first()
  await way.locator('summary').click()
  const input = way.getByLabel(/: Input$/)
  await expect(input).toHaveAttribute('placeholder', '1')
  for (const [text, says] of [
    ['2,5', 'is no whole number'],
    ['65', '1 to 64'],
  ] as const) {
    await input.fill(text)
    await input.press('Enter')
    await expect(way.getByRole('alert')).toContainText(says)
    await expect(input).toHaveValue(text)
  }
  await input.fill('3')
  await input.press('Enter')
  await expect(page.locator('main')).toContainText('goes into input 3 of Box, which has 2 inputs')
  await input.fill('2')
  await input.press('Enter')
  await expect(page.locator('main')).not.toContainText('goes into input 3')
  expect(wrong).toEqual([])
})
