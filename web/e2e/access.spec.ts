import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { hop, loft, sentence, url } from './helpers'

for (const theme of ['light', 'dark']) {
  test(`nothing that axe finds, in the ${theme} theme`, async ({ page, request }) => {
    await page.addInitScript((t) => localStorage.setItem('theme', t), theme)
    const id = await loft(request)
    const clean = async (where: string) => {
      const found = await new AxeBuilder({ page })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
        .analyze()
      expect(
        found.violations.map(
          (v) => `${where}: ${v.id} ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`,
        ),
      ).toEqual([])
    }
    await page.goto(url())
    await expect(page.locator('main li').first()).toBeVisible()
    await clean('list')
    await page.goto(url('/new'))
    await clean('start')
    await page.goto(url(`/rigs/${id}`))
    await expect(sentence(page)).toBeVisible()
    await clean('board')
    await hop(page, 'lead', 'High Speed HDMI 12 m').click()
    await expect(page.getByTestId('panel').getByText('What can be done here')).toBeVisible()
    await clean('panel')
    await page.goto(url(`/rigs/${id}/show`))
    await expect(page.getByTestId('open')).toBeVisible()
    await clean('show')
    await page.goto(url('/shelf?open=plain-stick'))
    await expect(page.getByTestId('sheet')).toBeVisible()
    await clean('sheet')
    await page.goto(url('/shelf?open=loft-camera-a,loft-camera-b'))
    await expect(page.getByTestId('compare')).toBeVisible()
    await clean('compare')
  })
}

test('a state is told by shape: parted, straight, dotted and hanging lines differ without colour', async ({
  page,
  request,
}) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  const lines = page.getByTestId('board').locator('svg .settle path.rope')
  await expect(lines.first()).toBeAttached()
  const shapes = await lines.evaluateAll((all) =>
    all.map((p) => ({
      state: p.getAttribute('class')!.split(' ')[1]!,
      d: p.getAttribute('d')!,
      dots: p.getAttribute('stroke-dasharray'),
    })),
  )
  const of = (state: string) => shapes.filter((s) => s.state === state)
  for (const state of ['slack', 'taut', 'untested', 'snapped'])
    expect(of(state).length, state).toBeGreaterThan(0)
  expect(of('taut').every((s) => s.d.includes('L') && !s.dots)).toBe(true)
  expect(of('untested').every((s) => !!s.dots)).toBe(true)
  expect(of('slack').every((s) => s.d.includes('C') && !s.dots)).toBe(true)
  expect(of('snapped').length % 8).toBe(0) // two pieces, and three yarns at each of the two ends
})

test('reduced motion: lines do not move', async ({ page, request }) => {
  await page.emulateMedia({ reducedMotion: 'reduce' })
  await page.goto(url(`/rigs/${await loft(request)}`))
  const line = page.getByTestId('board').locator('svg .settle path').first()
  await expect(line).toBeAttached()
  expect(await line.evaluate((e) => getComputedStyle(e).transitionDuration)).toBe('0s')
})

test('an empty list and a page that is not there are designed', async ({ page }) => {
  await page.route('**/api/rigs?*', (route) => route.fulfill({ json: [] }))
  await page.goto(url())
  await expect(page.getByText('No rigs yet.')).toBeVisible()
  await page.goto(url('/nothing/here'))
  await expect(page.getByText('There is no such page.')).toBeVisible()
})
