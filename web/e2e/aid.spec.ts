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
  await expect(cure.getByRole('listitem')).toHaveCount(5)
  await cure.getByRole('button', { name: /^Try alone: Put Stick 1/ }).click()
  const both = held(page).getByTestId('before-after')
  await expect(both).toContainText('Holds after five moves')
  await expect(both).toContainText('Holds after four moves')
  await held(page).getByRole('button', { name: 'Hold it, and try more' }).click()
  await page.locator('[data-finding="run-time:cam-face"]').getByRole('button', { name: 'Try' }).click()
  await expect(held(page)).toContainText('Put Stick 1 into back 2 of Loft computer; Run Face camera')
  await expect(both).toContainText('Holds after three moves')
  await held(page).getByRole('button', { name: /Keep/ }).click()
  await expect(held(page)).toHaveCount(0)
  await expect(sentence(page)).toContainText('Holds after three moves')
  // Some of the moves, and not the others.
  await cure.getByRole('checkbox').first().uncheck()
  await cure.getByRole('checkbox').nth(1).uncheck()
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

test('bench: from a key to the drawn verdict, in the loft', async ({ page, request }) => {
  await page.addInitScript(() => {
    const asked = window.fetch
    const state = window as unknown as { pending: number }
    state.pending = 0
    window.fetch = (...args) => {
      state.pending++
      return asked(...args).finally(() => state.pending--)
    }
  })
  await page.goto(url(`/rigs/${await loft(request)}`))
  await page.locator('button.hop').first().focus()
  const took = await page.evaluate(async () => {
    const board = document.querySelector<HTMLElement>('[data-testid=board]')!
    const idle = () => new Promise((done) => requestIdleCallback(done))
    /** Until nothing is asked for or drawn any more, as it is when a hand comes to press the next key. */
    const rests = async () => {
      for (let calm = 0; calm < 4; calm++) {
        await idle()
        if ((window as unknown as { pending: number }).pending > 0) calm = -1
      }
    }
    const press = (key: string) => {
      const began = performance.now()
      const was = board.innerHTML
      document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
      let frames = 0
      return new Promise<number[]>((done) => {
        const look = () => {
          if (board.innerHTML !== was) done([performance.now() - began])
          else if (frames++ > 60)
            done([]) // there is nothing to step through here
          else requestAnimationFrame(look)
        }
        look()
      })
    }
    const hops = () => [
      ...board.querySelectorAll<HTMLElement>('button.hop[data-stage=lead], button.hop[data-stage=socket]'),
    ]
    const byHand: number[] = []
    for (let at = 0; at < hops().length; at++) {
      hops()[at]!.focus()
      await rests()
      for (const key of [']', ']', '[', ']']) {
        byHand.push(...(await press(key)))
        await rests()
      }
      await press('Escape')
      await rests()
    }
    board.querySelector<HTMLElement>('button.hop[data-stage=lead]')!.focus()
    await rests()
    const heldDown: number[] = []
    for (let i = 0; i < 40; i++) heldDown.push(...(await press(']')))
    return { byHand, heldDown }
  })
  // Figures for the note, no limits: machines differ.
  for (const [how, ms] of [
    ['by hand', took.byHand],
    ['key held down', took.heldDown],
  ] as const) {
    ms.sort((a, b) => a - b)
    const said = `${how}: median ${ms[ms.length >> 1]!.toFixed(0)} ms, p95 ${ms[Math.floor(ms.length * 0.95)]!.toFixed(0)} ms of ${ms.length}`
    test.info().annotations.push({ type: 'key to drawn verdict', description: said })
    console.log(`key to drawn verdict, ${said}`)
  }
  expect(took.byHand.length).toBeGreaterThanOrEqual(20)
  expect(took.heldDown).toHaveLength(40)
})
