import { expect, test } from '@playwright/test'
import { complaints, loft, url } from './helpers'

const tree = [
  '/:  Bus 001.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/4p, 480M',
  '    |__ Port 002: Dev 002, If 0, Class=Video, Driver=uvcvideo, 480M',
  '/:  Bus 002.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/2p, 5000M',
  '',
].join('\r\n')

test('plugs are moved as suggested, the bus holds, and it is taken back', async ({ page, request }) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/ports`))
  const now = page.locator('section', { has: page.getByRole('heading', { name: 'As it is' }) })
  const after = page.locator('section', { has: page.getByRole('heading', { name: 'As suggested' }) })
  await expect(page.getByTestId('suggestion')).toContainText('Stick 3: from hub 2 to back 2')
  await expect(page.getByTestId('suggestion')).toContainText('Every other placing was ruled out')
  const hub = (at: typeof now) => at.locator('[data-ref="pc.front-right"]')
  await expect(hub(now)).toHaveAttribute('data-state', 'snapped')
  await expect(hub(after)).not.toHaveAttribute('data-state', 'snapped')
  await expect(after.getByText('comes here').first()).toBeVisible()

  // Every number opens to its sum and its source.
  await now.getByRole('button', { name: 'Open the sum: front right' }).click()
  await expect(hub(now).locator('a[href="/rules#bus"]')).toHaveText(/USB 2.0 chapter 5/)
  await expect(hub(now)).toContainText('Limit, at most')

  await page.getByRole('button', { name: 'Move them' }).click()
  await expect(after).toHaveCount(0)
  await expect(hub(now)).not.toHaveAttribute('data-state', 'snapped')
  await expect(page.getByTestId('suggestion')).toContainText('No USB plug has to move')
  await expect(page.getByTestId('labels')).toContainText('Stick 1')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(after).toHaveCount(1)
  await expect(hub(now)).toHaveAttribute('data-state', 'snapped')
  expect(wrong).toEqual([])
})

test('the label sheet prints alone', async ({ page, request }) => {
  await page.goto(url(`/rigs/${await loft(request)}/ports`))
  await expect(page.getByTestId('labels')).toBeVisible()
  await page.evaluate(() => (document.documentElement.dataset.theme = 'dark'))
  await page.emulateMedia({ media: 'print' })
  const ink = await page.getByTestId('labels').evaluate((e) => getComputedStyle(e).color)
  expect(ink, 'black on white, in the dark theme too').toBe('rgb(0, 0, 0)')
  await expect(page.getByTestId('labels')).toContainText('Marlpit Puppet Loft')
  await expect(page.getByRole('heading', { name: 'As it is' })).toBeHidden()
  await expect(page.getByRole('button', { name: 'Print the labels' })).toBeHidden()
  await expect(page.getByRole('banner')).toBeHidden()
})

test('a listing becomes the computer; a bad one says so and nothing typed is lost', async ({
  page,
  request,
}) => {
  await page.goto(url(`/rigs/${await loft(request)}/ports`))
  const read = page.getByTestId('read-machine')
  const text = read.getByRole('textbox', { name: 'Listing' })
  await text.fill('Call me anything.')
  await read.getByRole('button', { name: 'Read it' }).click()
  await expect(read.getByRole('alert')).toContainText('line 1: "Call me anything." stands before any device')
  await expect(text).toHaveValue('Call me anything.')
  await read.getByLabel('Choose files').setInputFiles([
    { name: 'tree.txt', mimeType: 'text/plain', buffer: Buffer.from(tree) },
    {
      name: 'cut.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from(tree.split('\r\n')[0]!.replaceAll('001', '003').slice(0, -9)),
    },
  ])
  const reading = page.getByTestId('reading')
  await expect(reading).toContainText('4 devices')
  await expect(reading.getByRole('alert')).toContainText('cut.txt line 1')
  await expect(page.locator('[data-ref="pc.bus-1-port-2"]')).toHaveCount(0)
  await reading.getByRole('button', { name: 'Take it into the rig' }).click()
  await expect(page.locator('[data-ref="pc.bus-1-port-2"]').first()).toContainText('A device without a name')
  await expect(page.locator('[data-ref="pc.front-right"]').first()).toContainText('Small hub')

  await read.getByRole('button', { name: 'Read this computer' }).click()
  await expect(reading.or(read.getByRole('alert'))).toBeVisible()
})

test('looking for a placing, and a server that fails, are designed', async ({ page, request }) => {
  const id = await loft(request)
  let fail = () => {}
  await page.route('**/api/place', async (route) => {
    await new Promise<void>((go) => (fail = go))
    await route.fulfill({ status: 500, json: { title: 'No', detail: 'The search broke.' } })
  })
  await page.goto(url(`/rigs/${id}/ports`))
  await expect(page.getByTestId('open')).toContainText('Looking for the best placing')
  await page.getByRole('button', { name: 'Stop looking' }).click()
  await expect(page.getByRole('status')).toContainText('Stopped. Nothing was changed.')
  await page.getByRole('button', { name: 'Look again' }).click()
  await expect(page.getByRole('button', { name: 'Stop looking' })).toBeVisible()
  fail()
  await expect(page.getByRole('alert')).toContainText('The search broke.')
})
