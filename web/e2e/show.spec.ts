import { expect, test } from '@playwright/test'
import { complaints, held, hop, loft, sentence, url } from './helpers'

test('the show is changed in place, judged at once, and undone', async ({ page, request }) => {
  const wrong = complaints(page)
  const id = await loft(request, 'Village hall on tour')
  await page.goto(url(`/rigs/${id}/show`))
  await expect(page.getByTestId('open')).toContainText('Next: what Village page takes at most')
  const main = page.getByRole('main')
  await expect(main).toContainText('after three moves')
  await page.getByRole('checkbox', { name: 'Each can be picked in the program' }).click()
  await expect(main).toContainText('after two moves')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(main).toContainText('after three moves')
  await expect(page.getByRole('checkbox', { name: 'Each can be picked in the program' })).toBeChecked()

  await page.getByRole('combobox', { name: 'Largest size Village page' }).selectOption('1280×720')
  await expect(page.getByTestId('open')).toContainText(
    'Next: when the limits of Village page were last checked',
  )
  const minutes = page.getByRole('textbox', { name: 'The show', exact: true })
  await minutes.fill('an hour')
  await minutes.press('Enter')
  await expect(page.getByRole('alert')).toContainText('“an hour” is not a number')
  await minutes.fill('0')
  await minutes.press('Enter')
  await expect(page.getByRole('alert').first()).toContainText('minutes')
  await expect(minutes).toHaveValue('150')
  await page.getByRole('button', { name: 'Another destination' }).click()
  await expect(page.locator('[data-destination="Destination 2"]')).toBeVisible()
  expect(wrong).toEqual([])
})

test('each source shows what it leaves on the programme, and the shutter this light wants', async ({
  page,
  request,
}) => {
  const id = await loft(request, 'Village hall on tour')
  await page.goto(url(`/rigs/${id}/show`))
  const source = page.locator('[data-source="cam-balcony"]')
  await expect(source).toContainText('set the shutter to 1/100 s')
  const shutter = source.getByRole('textbox')
  await shutter.fill('1/60')
  await shutter.press('Enter')
  await page.getByRole('link', { name: 'Tether', exact: true }).click()
  await expect(page.locator('[data-finding="flicker:cam-balcony"]')).toContainText(
    'does not last whole periods',
  )
})

test('a camera that falls asleep is touched in time: found on the board, ticked on the Show page, a step of the night', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  const idle = { value: 30, low: 30, high: 30, from: 'measured' }
  const kept = await request.post(url(`/api/rigs/${id}/edits`), {
    data: {
      from: 1,
      what: 'sleepy',
      edits: [
        { do: 'word', path: 'items/cam-stage/standby/does', word: 'black' },
        { do: 'fact', path: 'items/cam-stage/standby/afterMinutes', fact: idle },
      ],
    },
  })
  expect(kept.ok()).toBe(true)
  await page.goto(url(`/rigs/${id}`))
  await expect(page.locator('[data-finding="standby:cam-stage"]')).toContainText('Left alone for 30 min')
  await expect(page.getByTestId('cure')).toContainText('Touch Stage camera every 24 min at the latest')
  await page.getByRole('link', { name: 'Show', exact: true }).click()
  const source = page.locator('[data-source="cam-stage"]')
  await source.getByRole('checkbox', { name: 'touched in time' }).click()
  await expect(source).toContainText('somebody touches it every 24 min at the latest')
  await page.getByRole('link', { name: 'Tether', exact: true }).click()
  await expect(page.getByTestId('cure')).not.toContainText('Touch Stage camera')
  await expect(page.locator('[data-finding="standby:cam-stage"]')).toHaveCount(0)
  await page.getByRole('link', { name: 'Run sheet', exact: true }).click()
  await expect(page.getByText('Touch Stage camera every 24 min at the latest')).toBeVisible()
})

test('the hall: lines join at the switcher; a lead tells what its ends agree on, and why the rest fails', async ({
  page,
  request,
}) => {
  const id = await loft(request, 'Village hall on tour')
  await page.goto(url(`/rigs/${id}`))
  await expect(sentence(page)).toContainText('Holds after three moves')
  await expect(page.getByTestId('cure')).toContainText('Change angles on the switcher')
  await expect(page.getByTestId('board')).toContainText('Switcher')
  await hop(page, 'lead', 'RG-6 class coax 25 m').click()
  const agreement = page.getByTestId('agreement')
  await expect(agreement).toContainText('What Aisle camera and Switcher agree on')
  await expect(agreement.getByRole('listitem').first()).toContainText('best for the show')
  await agreement.getByText('When nothing shows, try').click()
  await expect(agreement).toContainText('short lead')
  await agreement.getByRole('button', { name: 'Try: 1080p25' }).click()
  await expect(held(page)).toContainText('Set Aisle camera to 1080p25')
  await page.keyboard.press('Escape')
  await expect(held(page)).toHaveCount(0)
})

test('by USB or by capture: both ways side by side, and the other one held as a ghost', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await hop(page, 'camera', 'Bench camera').click()
  await page.getByRole('button', { name: 'By USB or by capture?' }).click()
  const ways = page.getByTestId('ways')
  await expect(ways.locator('[data-way="capture"]')).toContainText('NV12 1920×1080')
  await expect(ways.locator('[data-way="usb"]')).toContainText('MJPEG 1280×720')
  await expect(ways.locator('[data-way="usb"]')).toContainText('often only 720p')
  await ways.locator('[data-way="usb"]').getByRole('button', { name: 'Try' }).click()
  await expect(held(page)).toContainText('By its own USB')
  await expect(page.getByTestId('board')).toHaveAttribute('data-held', 'yes')
})

test("calls come down the line, what else the computer does is judged, and a destination is kept among one's own", async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/show`))
  await page.getByRole('button', { name: 'Somebody joins by a call' }).click()
  const people = page.getByRole('textbox', { name: 'People whose pictures come in 1' })
  await people.fill('3')
  await people.press('Enter')
  await page.getByRole('checkbox', { name: 'plays the stream it sends' }).click()
  await expect(page.getByRole('checkbox', { name: 'plays the stream it sends' })).toBeChecked()
  const line = page.getByRole('textbox', { name: 'The line brings in', exact: true })
  await line.fill('2')
  await line.press('Enter')
  const destination = page.locator('[data-destination]').first()
  const name = (await destination.getAttribute('data-destination'))!
  await destination.getByRole('button', { name: 'Keep among mine' }).click()
  await expect(destination.getByRole('status')).toContainText(`${name} is among yours now`)
  await expect(destination.locator('option', { hasText: `${name} · yours` })).toHaveCount(1)
  await page.getByRole('link', { name: 'Send', exact: true }).click()
  await expect(page.getByRole('main')).toContainText('of 2 Mb/s download')
  await page.getByRole('link', { name: 'Tether', exact: true }).click()
  await expect(page.locator('[data-limit="downlink"]').first()).toContainText('snapped')
  await page.getByRole('link', { name: 'Show', exact: true }).click()
  await destination.getByRole('button', { name: 'Take off mine' }).click()
  await expect(destination.getByRole('button', { name: 'Take off mine' })).toHaveCount(0)
  await destination.getByRole('checkbox', { name: 'the same goes to its backup ingest too' }).click()
  await expect(
    destination.getByRole('checkbox', { name: 'the same goes to its backup ingest too' }),
  ).toBeChecked()
  expect(wrong).toEqual([])
})
