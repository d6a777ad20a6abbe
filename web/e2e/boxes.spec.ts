import { type APIRequestContext, expect, type Page, test } from '@playwright/test'
import { loft, url } from './helpers'

/** A rig of eight cameras from three answers. */
async function eight(request: APIRequestContext): Promise<string> {
  const made = await request.post(url('/api/start'), {
    data: {
      name: 'Eight cameras',
      sources: [{ kind: 'camera', count: 8 }],
      out: { height: 1080, fps: 50, minutes: 90 },
      computer: 'laptop',
    },
  })
  return ((await made.json()) as { id: string }).id
}

/** The loft with the longest names the file format allows, some of them written right to left. */
async function long(request: APIRequestContext): Promise<string> {
  const id = await loft(request)
  const board = (await (await request.get(url(`/api/rigs/${id}`))).json()) as {
    revision: number
    rig: { items: { id: string }[] }
  }
  const words = [
    'Balcony camera over the second door from the left ',
    'מצלמה גדולה מעל הבמה הקטנה ',
    'Unbreakablename',
  ]
  const edits = board.rig.items.map((it, i) => ({
    do: 'label',
    item: it.id,
    name: words[i % 3]!.repeat(20).slice(0, 118).trim() + (i % 10),
  }))
  const kept = await request.post(url(`/api/rigs/${id}/edits`), {
    data: { from: board.revision, edits, what: 'Long names' },
  })
  expect(kept.ok(), await kept.text()).toBe(true)
  return id
}

/** What is cut off, or runs over something else, among the words of the board or of the column that stands for it. */
async function wrong(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const out: string[] = []
    const root = document.querySelector<HTMLElement>('[data-testid=board], [data-testid=column]')!
    const seen: { name: string; box: DOMRect }[] = []
    const whole = root.getBoundingClientRect()
    for (const el of root.querySelectorAll<HTMLElement>(
      '[data-words], [data-out], [data-plank], section, svg text',
    )) {
      const name = `${el.tagName} ${(el.textContent ?? '').slice(0, 40)}`
      if (
        el instanceof HTMLElement &&
        (el.scrollWidth > el.clientWidth + 1 || el.scrollHeight > el.clientHeight + 1)
      )
        out.push(`cut off: ${name}`)
      const box = el.getBoundingClientRect()
      if (box.left < whole.left - 1 || box.right > whole.left + root.scrollWidth + 1)
        out.push(`outside: ${name}`)
      for (const other of seen) {
        const over = {
          x: Math.min(box.right, other.box.right) - Math.max(box.left, other.box.left),
          y: Math.min(box.bottom, other.box.bottom) - Math.max(box.top, other.box.top),
        }
        if (over.x > 2 && over.y > 2) out.push(`over each other: ${name} / ${other.name}`)
      }
      seen.push({ name, box })
    }
    if (root.scrollWidth > root.clientWidth + 1)
      out.push(`wider than the page: ${root.scrollWidth} of ${root.clientWidth}`)
    if (document.documentElement.scrollWidth > window.innerWidth) out.push('the page scrolls sideways')
    return out
  })
}

const rigs: [string, (r: APIRequestContext) => Promise<string>][] = [
  ['the loft', (r) => loft(r)],
  ['the even loft', (r) => loft(r, 'Marlpit Puppet Loft, even')],
  ['the hall', (r) => loft(r, 'Village hall on tour')],
  ['the desk', (r) => loft(r, 'Desk with a four-input card')],
  ['eight cameras', eight],
  ['the longest names', long],
]
for (const [name, make] of rigs)
  for (const [width, height] of [
    [1280, 800],
    [820, 1180],
    [390, 844],
  ] as const)
    test(`no word is cut off or covered: ${name} at ${width}×${height}`, async ({ page, request }) => {
      await page.setViewportSize({ width, height })
      await page.goto(url(`/rigs/${await make(request)}`))
      await expect(page.getByTestId(width < 1040 ? 'column' : 'board')).toBeVisible()
      await expect.poll(() => wrong(page)).toEqual([])
    })
