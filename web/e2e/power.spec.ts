import { expect, test } from '@playwright/test'
import { complaints, loft, url } from './helpers'

test('batteries end on the clock; a way to power a camera is kept, and taken back', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  await page.goto(url(`/rigs/${await loft(request, 'Village hall on tour')}/power`))
  const clock = page.getByTestId('clock')
  await expect(clock).toContainText('270 min')
  await expect(page.getByTestId('open')).toContainText('Next: Side camcorder')
  const side = page.locator('[data-battery="cam-side"]')
  await expect(side.locator('[data-way="Its own battery"]')).toContainText('as it is')
  await expect(side.locator('[data-way="Its own battery"]')).toContainText('snapped')
  // The caution stands once, beside the table.
  await expect(page.getByText('never charge unattended or covered')).toHaveCount(1)
  await side.getByRole('button', { name: /^Use this: The mains/ }).click()
  await expect(clock).toContainText('Side camcorder runs on the mains')
  await expect(side.locator('[data-way^="The mains"]')).toContainText('as it is')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(clock).toContainText('Side camcorder needs 270 min')
  // Below it stands what hangs on what, with the cautions for mains.
  const strip = page.locator('[data-supply]', { hasText: 'Stage strip' })
  await expect(strip).toContainText('On it:')
  await strip.locator('summary').first().click()
  await expect(strip).toContainText('Caution')
  expect(wrong).toEqual([])
})

test('a draw measured once is kept in the rig and on the shelf', async ({ page, request }) => {
  await page.goto(url(`/rigs/${await loft(request, 'Village hall on tour')}/power`))
  const side = page.locator('[data-battery="cam-side"]')
  await side.getByRole('button', { name: /^Change: Draw/ }).click()
  await side.getByRole('textbox', { name: /^Draw/ }).fill('5,8')
  await side.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(side).toContainText('5.8 W')
  await expect(side).toContainText('Also kept on the shelf.')
  const items = (await (await request.get(url('/api/shelf'))).json()) as {
    entry: { gear: { power?: { drawW?: { value: number; from: string } } } }
  }[]
  expect(items.some((i) => i.entry.gear.power?.drawW?.value === 5.8)).toBe(true)
})

test('a rig without batteries and supplies says so', async ({ page, request }) => {
  const id = await loft(request)
  await page.route('**/api/power', (route) =>
    route.fulfill({ json: { phases: [], total: 0, batteries: [], supplies: [] } }),
  )
  await page.goto(url(`/rigs/${id}/power`))
  await expect(page.getByText('No source has a battery.')).toBeVisible()
  await expect(page.getByText('No supply is in the rig.')).toBeVisible()
})
