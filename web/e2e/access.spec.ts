import AxeBuilder from '@axe-core/playwright'
import { expect, type Page, test } from '@playwright/test'
import { hop, loft, sentence, url } from './helpers'

const pages: Record<string, { at: (rig: string) => string; ready: (page: Page) => Promise<void> }> = {
  list: { at: () => '', ready: (page) => expect(page.locator('main li').first()).toBeVisible() },
  start: { at: () => '/new', ready: (page) => expect(page.getByRole('main')).toBeVisible() },
  board: { at: (rig) => `/rigs/${rig}`, ready: (page) => expect(sentence(page)).toBeVisible() },
  panel: {
    at: (rig) => `/rigs/${rig}`,
    ready: async (page) => {
      await hop(page, 'lead', 'High Speed HDMI 12 m').click()
      await expect(page.getByTestId('panel').getByText('What can be done here')).toBeVisible()
    },
  },
  show: { at: (rig) => `/rigs/${rig}/show`, ready: (page) => expect(page.getByTestId('open')).toBeVisible() },
  ports: {
    at: (rig) => `/rigs/${rig}/ports`,
    ready: async (page) => {
      await expect(page.getByTestId('labels')).toBeVisible()
      await page
        .getByRole('button', { name: /^Open the sum/ })
        .first()
        .click()
    },
  },
  power: {
    at: (rig) => `/rigs/${rig}/power`,
    ready: (page) => expect(page.getByTestId('clock')).toBeVisible(),
  },
  send: {
    at: (rig) => `/rigs/${rig}/send`,
    ready: (page) => expect(page.getByTestId('region')).toBeVisible(),
  },
  run: { at: (rig) => `/rigs/${rig}/run`, ready: (page) => expect(page.getByTestId('steps')).toBeVisible() },
  sound: {
    at: (rig) => `/rigs/${rig}/sound`,
    ready: (page) => expect(page.getByTestId('open')).toContainText('limits of sound'),
  },
  costs: {
    at: (rig) => `/rigs/${rig}/costs`,
    ready: (page) => expect(page.getByTestId('totals')).toBeVisible(),
  },
  inspect: {
    at: (rig) => `/rigs/${rig}/inspect`,
    ready: (page) => expect(page.getByTestId('drop')).toBeVisible(),
  },
  rehearse: {
    at: (rig) => `/rigs/${rig}/rehearse`,
    ready: (page) => expect(page.getByTestId('begin')).toBeVisible(),
  },
  slate: { at: () => '/slate', ready: (page) => expect(page.getByTestId('caution')).toBeVisible() },
  look: { at: (rig) => `/rigs/${rig}/look`, ready: (page) => expect(page.getByTestId('drop')).toBeVisible() },
  log: { at: () => '/log', ready: (page) => expect(page.getByText('Puppet class 30')).toBeVisible() },
  sheet: {
    at: () => '/shelf?open=plain-stick',
    ready: (page) => expect(page.getByTestId('sheet')).toBeVisible(),
  },
  compare: {
    at: () => '/shelf?open=loft-camera-a,loft-camera-b',
    ready: (page) => expect(page.getByTestId('compare')).toBeVisible(),
  },
}

for (const theme of ['light', 'dark'])
  for (const [where, { at, ready }] of Object.entries(pages))
    test(`nothing that axe finds: ${where}, ${theme}`, async ({ page, request }) => {
      await page.addInitScript((t) => localStorage.setItem('theme', t), theme)
      await page.goto(url(at(await loft(request))))
      await ready(page)
      const axe = new AxeBuilder({ page })
      const found = await (
        theme === 'light'
          ? axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
          : axe.withRules(['color-contrast', 'link-in-text-block'])
      ) // the themes differ in colours alone
        .analyze()
      expect(
        found.violations.map((v) => `${v.id} ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`),
      ).toEqual([])
    })

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
  for (const screen of ['', '/show', '/ports', '/power']) {
    await page.goto(url(`/rigs/nothing${screen}`))
    await expect(page.getByRole('alert')).toContainText('There is no rig “nothing”')
  }
  await page.goto(url('/nothing/here'))
  await expect(page.getByText('There is no such page.')).toBeVisible()
})
