import { expect, test } from '@playwright/test'
import { complaints, hop, loft, url } from './helpers'

test('a source leads to its rule: the question, the sum, what happens when it is over, an example', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  await page.goto(url(`/rigs/${await loft(request)}`))
  await hop(page, 'camera', 'Face camera').click()
  await page.getByTestId('panel').locator('a[href="/rules#run-time"]').click()
  const rule = page.locator('article#run-time')
  await expect(rule).toBeInViewport()
  await expect(rule).toContainText('Does what a camera runs on last for set-up, rehearsal and show?')
  await expect(rule).toContainText('Wh × usable share ÷ W')
  await expect(rule).toContainText('drops:')
  await expect(rule).toContainText('1080 mAh at 7.2 V is 7.8 Wh')
  expect(await page.locator('article').count()).toBeGreaterThan(50)
  expect(wrong).toEqual([])
})

test('a plug that is let go by the system is put back', async ({ page, request }) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  const plug = page.locator('button[data-plug]').first()
  const at = (await plug.boundingBox())!
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.mouse.down()
  await page.mouse.move(at.x + 40, at.y + 60)
  await expect(page.locator('[data-in-hand]')).toHaveCount(1)
  await page.evaluate(() => window.dispatchEvent(new PointerEvent('pointercancel')))
  await expect(page.locator('[data-in-hand]')).toHaveCount(0)
  await page.mouse.up()
})
