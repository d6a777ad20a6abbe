import { expect, type Page, test } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { complaints, go, loft, url } from './helpers'

declare global {
  interface Window {
    /** Requests the page waits for, and all of them. */
    underWay: number
    asked: number
  }
}

/** The screens of a rig, by the end of their address. */
const screens = [
  '',
  '/show',
  '/ports',
  '/power',
  '/send',
  '/sound',
  '/run',
  '/costs',
  '/look',
  '/inspect',
  '/rehearse',
]

/** Random rigs of the generator the laws of the core are held against. */
const random = execFileSync('go', ['run', '../internal/randomrigs', '7001', '20'], { maxBuffer: 1 << 28 })
  .toString()
  .trim()
  .split('\n')

/**
 * Opens every fold and every hop, presses every button (of those that read alike so many) and says what broke. Keys close
 * what a press opened; a press that leads away is taken back. Files, measuring and leaving the page are not for this test.
 */
async function pressAll(
  page: Page,
  alike: number,
): Promise<{ pressed: number; all: boolean; broke: string[] }> {
  return page.evaluate(async (alike) => {
    const rest = () => new Promise<void>((done) => setTimeout(done, 2))
    /** Until everything that was asked for is here and drawn. */
    const settle = async () => {
      await rest()
      while (window.underWay > 0) await rest()
      await rest()
    }
    const watch = new MutationObserver(() => {
      for (const b of document.querySelectorAll('[data-testid=broke]:not([data-seen])')) {
        b.setAttribute('data-seen', '')
        broke.push(`${last}: ${b.textContent}`)
      }
    })
    watch.observe(document.body, { childList: true, subtree: true })
    let last = ''
    const not =
      /^(Measure|Delete|Print|Load the page|Leave|Export|Light|Dark|Theme|Open the show|Read this|Go live)/i
    const seen = new Map<string, number>()
    const broke: string[] = []
    const here = location.pathname
    let pressed = 0
    let all = false
    const name = (e: Element) => (e.getAttribute('aria-label') ?? e.textContent ?? '').trim().slice(0, 80)
    const shown = (e: Element) =>
      (e as HTMLElement).offsetParent !== null || getComputedStyle(e).position === 'fixed'
    /** What reads alike; things of the shelf, and sockets a lead goes to, are many: some of them stand for all. */
    const kind = (e: Element) =>
      e.closest('[data-testid=picker] li, [data-testid=targets] p')
        ? 'an offer'
        : `${e.tagName} ${name(e)} ${e.getAttribute('data-stage') ?? ''}`
    for (let round = 0; round < 1200; round++) {
      for (const d of document.querySelectorAll('details:not([open])')) (d as HTMLDetailsElement).open = true
      const next = [
        ...document.querySelectorAll('button:not(:disabled), summary, [role=tab], [role=menuitem]'),
      ].find((e) => {
        if (e.hasAttribute('data-pressed')) return false
        const most = e.classList.contains('hop') ? 12 : alike
        return (seen.get(kind(e)) ?? 0) < most && !not.test(name(e)) && shown(e) // which lays the page out
      })
      if (!next) {
        all = true
        break
      }
      const key = kind(next)
      seen.set(key, (seen.get(key) ?? 0) + 1)
      next.setAttribute('data-pressed', '')
      if (next.tagName === 'SUMMARY') continue
      last = key
      ;(next as HTMLElement).click()
      pressed++
      await settle()
      if (location.pathname !== here) {
        history.back()
        await settle()
        await settle()
      }
      // what was opened by it is pressed by the next rounds; what is held is put back now and then
      if (round % 12 === 11) {
        document.activeElement?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }))
        await settle()
      }
    }
    watch.disconnect()
    return { pressed, all, broke }
  }, alike)
}

async function openAll(page: Page, id: string, alike: number) {
  const said = complaints(page)
  let pressed = 0
  await page.addInitScript(() => {
    const { fetch } = window
    window.underWay = 0
    window.asked = 0
    window.fetch = async (...of) => {
      const later = /\/advice/.test(of[0] instanceof Request ? of[0].url : String(of[0])) // comes when it comes: the page is used meanwhile
      if (!later) window.underWay++
      window.asked++
      try {
        return await fetch(...of)
      } finally {
        if (!later) window.underWay--
        window.asked--
      }
    }
  })
  await page.goto(url('/rules'))
  for (const screen of screens) {
    // A page that was led to Look loads itself anew before it asks for devices: it is opened as that.
    if (screen === '/look') await page.goto(url(`/rigs/${id}${screen}`))
    else await go(page, `/rigs/${id}${screen}`)
    await expect(page.getByTestId(screen === '' ? 'sentence' : 'open')).toBeAttached() // it may have nothing to say
    await page.waitForFunction(() => window.underWay === 0)
    const all = await pressAll(page, alike)
    pressed += all.pressed
    await page.waitForFunction(() => window.asked === 0)
    expect.soft(all.broke, screen).toEqual([])
    expect.soft(all.all, `${screen}: every button before the rounds ran out`).toBe(true)
    await expect(page.getByTestId('broke')).toHaveCount(0)
  }
  expect(said).toEqual([])
  expect(pressed).toBeGreaterThan(20)
}

test.describe.configure({ mode: 'parallel' })
/** As wide as a desk's; low, for what lies below is laid out and pressed all the same, and not painted. */
test.use({ viewport: { width: 1280, height: 120 } })

for (const name of ['Marlpit Puppet Loft', 'Village hall on tour', 'Desk with a four-input card'])
  test(`every hop, fold and button of every screen: ${name}`, async ({ page, request }) => {
    test.slow()
    await openAll(page, await loft(request, name), 3)
  })

random.forEach((file, n) =>
  test(`every hop, fold and button of every screen: random rig ${7001 + n}`, async ({ page, request }) => {
    test.slow()
    const kept = await request.post(url('/api/rigs'), {
      data: file,
      headers: { 'Content-Type': 'application/json' },
    })
    expect(kept.ok(), await kept.text()).toBe(true)
    await openAll(page, ((await kept.json()) as { id: string }).id, 1) // the demo's press more of what is alike
  }),
)
