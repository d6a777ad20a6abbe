import { expect, type Locator, type Page, test } from '@playwright/test'
import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { complaints, held, hop, loft, url } from './helpers'

/** A rig on the bench, worked on by hand; every choice, key or typed word counts as an act. */
class Bench {
  acts = 0
  constructor(
    readonly page: Page,
    /** Nothing is pointed at: what is pressed is gone to and entered. */
    readonly byKeys = false,
  ) {}

  async press(what: Locator) {
    if (!this.byKeys) return what.click()
    await what.focus()
    await this.page.keyboard.press('Enter')
  }

  /** Puts things in by the dashed tether: what is typed to find them, and Enter. */
  async source(text: string) {
    await this.press(this.page.getByRole('button', { name: /^One more source/ }))
    await this.page.getByLabel('Find on the shelf').fill(text)
    await this.first(text)
    await this.page.keyboard.press('Enter')
    await this.settled(3)
  }

  /** Puts in what stands beside the tethers. */
  async beside(text: string) {
    await this.press(this.page.getByRole('button', { name: 'One more thing' }))
    await this.page.getByLabel('Find on the shelf').fill(text)
    await this.first(text)
    await this.page.keyboard.press('Enter')
    await this.settled(3)
  }

  private async first(text: string) {
    const name = text.replace(/^\d+ x /, '')
    await expect(this.page.getByTestId('picker').locator('li').first()).toContainText(name)
  }

  private async settled(acts: number) {
    this.acts += acts
    await expect(this.page.getByTestId('picker')).toHaveCount(0)
    await expect(held(this.page)).toBeVisible()
    await expect(held(this.page).getByTestId('before-after')).toBeVisible()
  }

  /** Opens a thing in the band. */
  async open(label: string) {
    await this.press(
      this.page
        .getByTestId('beside')
        .locator('button[data-beside]')
        .filter({ has: this.page.getByText(label, { exact: true }) }),
    )
    await expect(this.page.getByTestId('thing-panel')).toContainText(label)
    this.acts++
  }

  /** Leads a socket of the thing that is open to another. */
  async lead(socket: string, to: string) {
    const row = this.page
      .getByTestId('thing-panel')
      .locator('li[data-socket]')
      .filter({ has: this.page.getByText(socket, { exact: true }) })
    await row.getByRole('button', { name: 'Lead to…' }).click()
    await this.page.getByTestId('targets').getByRole('button', { name: to, exact: true }).click()
    await expect(this.page.getByTestId('targets')).toHaveCount(0)
    this.acts += 2
  }

  async unplug(socket: string) {
    const row = this.page
      .getByTestId('thing-panel')
      .locator('li[data-socket]')
      .filter({ has: this.page.getByText(socket, { exact: true }) })
    await row.getByRole('button', { name: 'Unplug' }).click()
    await expect(row.getByRole('button', { name: 'Lead to…' })).toBeVisible()
    this.acts++
  }

  async close() {
    await this.page.getByTestId('thing-panel').getByRole('button', { name: 'Close' }).click()
    this.acts++
  }

  async powered(label: string) {
    await this.page.getByLabel('Gets its power from').selectOption({ label })
    this.acts++
  }

  async sound(into: string) {
    await this.page.getByLabel('Its sound goes into').selectOption({ label: into })
    this.acts++
  }

  /** Takes out what stands at a hop; what hung on it gets another way. */
  async out(stage: string, label: string) {
    const all = this.page.locator(`button.hop[data-stage="${stage}"]`).filter({ hasText: label })
    const before = await all.count()
    await this.press(all.first())
    await this.press(this.page.getByTestId('panel').getByRole('button', { name: 'Take out', exact: true }))
    await expect(all).toHaveCount(before - 1)
    this.acts += 2
  }

  async keep() {
    await this.press(held(this.page).getByRole('button', { name: /^Keep/ }))
    await expect(held(this.page)).toHaveCount(0)
    this.acts++
  }
}

/** A new rig from typed lines, opened. */
async function say(page: Page, lines: string): Promise<string> {
  await page.goto(url('/'))
  await page.getByRole('button', { name: 'Say it in lines' }).click()
  await page.getByTestId('from-text').locator('textarea').fill(lines)
  await page.keyboard.press('Control+Enter')
  await page.waitForURL(/\/rigs\/[0-9a-f-]{36}$/)
  await expect(page.getByTestId('sentence')).toBeVisible()
  return page.url().split('/').at(-1)!
}

type Verdict = {
  state: string
  feeds: unknown[]
  branches: unknown[]
  limits: { id: string; state: string }[]
}

/** What a rig comes to: its state, its tethers, and how many limits of every rule stand how. */
async function verdict(page: Page, id: string) {
  const b = (await (await page.request.get(url(`/api/rigs/${id}`))).json()) as { verdict: Verdict }
  const count: Record<string, number> = {}
  for (const l of b.verdict.limits) {
    const key = `${l.id.split(':')[0]} ${l.state}`
    count[key] = (count[key] ?? 0) + 1
  }
  return { state: b.verdict.state, feeds: b.verdict.feeds.length, branches: b.verdict.branches.length, count }
}

const rigs: {
  name: string
  from: string
  lines: string
  by: (b: Bench) => Promise<void>
  state: string
  feeds: number
  most: number
  keys?: boolean
}[] = [
  {
    name: 'a laptop with its built-in webcam and a phone',
    from: 'Laptop',
    lines: 'Laptop\nBuilt-in webcam\nPhone by cable',
    by: async (b) => {
      await b.source('Built-in webcam')
      await b.source('Phone by cable')
    },
    state: 'untested',
    feeds: 2,
    most: 8,
    keys: true,
  },
  {
    name: 'a four-input switcher with recorder and monitor',
    from: 'Laptop',
    lines:
      'Laptop\nFour-input switcher\nCamcorder 1 [Camcorder]\nCamcorder 2 [Camcorder]\nSecond computer for slides\nPicture recorder\nMonitor\nFour-input switcher monitor out > Picture recorder in\nPicture recorder out > Monitor',
    by: async (b) => {
      await b.source('Four-input switcher')
      await b.source('2 x Camcorder')
      await b.source('Second computer for slides')
      await b.beside('Picture recorder')
      await b.beside('Monitor')
      await b.open('Picture recorder')
      await b.lead('in', 'Four-input switcher, monitor out')
      await b.lead('out', 'Monitor, in')
      await b.close()
    },
    state: 'untested',
    feeds: 3,
    most: 25,
  },
  {
    name: 'an old compact, and a lapel microphone into an interface',
    from: 'Laptop',
    lines:
      'Laptop\nOlder compact camera\nInterface with two inputs\nLapel microphone on a lead > Interface with two inputs',
    by: async (b) => {
      await b.source('Older compact camera')
      await b.beside('Interface with two inputs')
      await b.beside('Lapel microphone on a lead')
      await b.open('Lapel microphone on a lead')
      await b.sound('Interface with two inputs')
      await b.close()
    },
    state: 'snapped',
    feeds: 1,
    most: 14,
  },
  {
    name: 'three webcams, so that a hub has to stand between',
    from: 'Small laptop',
    lines: 'Small laptop\nUSB drive\nWebcam 1 [Webcam]\nWebcam 2 [Webcam]\nWebcam 3 [Webcam]',
    by: async (b) => {
      await b.beside('USB drive')
      await b.source('3 x Webcam')
    },
    state: 'untested',
    feeds: 3,
    most: 8,
    keys: true,
  },
  {
    name: 'two SDI cameras at 60 and 110 m',
    from: 'Desktop',
    lines:
      'Desktop\nSDI box 1 [SDI box]\nSDI box 2 [SDI box]\nStudio camera with SDI 1 [Studio camera with SDI] SDI > RG-6 60 m > SDI box 1\nStudio camera with SDI 2 [Studio camera with SDI] SDI > RG-6 110 m > SDI box 2',
    by: async (b) => {
      await b.source('2 x SDI box')
      await b.source('2 x Studio camera with SDI')
      for (const [n, metres] of [
        [1, '60'],
        [2, '110'],
      ] as const) {
        await b.page
          .locator('button.hop[data-stage=lead]')
          .nth(n - 1)
          .click()
        await b.page.getByLabel('What is printed on it').selectOption({ label: 'RG-6' })
        await b.page.getByLabel('Length', { exact: true }).fill(metres)
        await b.page.keyboard.press('Enter')
        await expect(held(b.page)).toContainText(`Length: ${metres}`)
        await b.page.getByTestId('panel').getByRole('button', { name: 'Close' }).click()
        b.acts += 4
      }
    },
    state: 'untested',
    feeds: 2,
    most: 16,
  },
  {
    name: 'three 4K cards in one desktop',
    from: 'Desktop with strong graphics',
    lines:
      'Desktop with strong graphics\n4K60 capture card, four lanes 1 [4K60 capture card, four lanes]\n4K60 capture card, four lanes 2 [4K60 capture card, four lanes]\n4K60 capture card, four lanes 3 [4K60 capture card, four lanes]\nCamera with full-size HDMI 1 [Camera with full-size HDMI]\nCamera with full-size HDMI 2 [Camera with full-size HDMI]\nCamera with full-size HDMI 3 [Camera with full-size HDMI]',
    by: async (b) => {
      await b.source('3 x 4K60 capture card, four lanes')
      await b.source('3 x Camera with full-size HDMI')
    },
    state: 'untested',
    feeds: 3,
    most: 8,
    keys: true,
  },
  {
    name: 'a laptop with a dock that carries two sticks, network and a drive',
    from: 'Large laptop',
    lines:
      'Large laptop\nDock with a controller of its own\nFull-HD stick 1 [full-HD stick] > Dock with a controller of its own dock 1\nFull-HD stick 2 [full-HD stick] > Dock with a controller of its own dock 2\nCamcorder 1 [Camcorder] > Full-HD stick 1\nCamcorder 2 [Camcorder] > Full-HD stick 2\nNetwork adapter\nUSB drive',
    by: async (b) => {
      await b.beside('Dock with a controller of its own')
      await b.source('2 x full-HD stick')
      for (const n of [1, 2]) {
        await b.open(`Full-HD stick ${n}`)
        await b.unplug('USB')
        await b.lead('USB', `Dock with a controller of its own, dock ${n}`)
        await b.close()
      }
      await b.source('2 x Camcorder')
      await b.beside('Network adapter')
      await b.beside('USB drive')
    },
    state: 'untested',
    feeds: 2,
    most: 30,
  },
  {
    name: 'three microphones',
    from: 'Laptop',
    lines:
      'Laptop\nWebcam\nInterface with four inputs\nHand-held microphone 1 [Hand-held microphone] \nHand-held microphone 2 [Hand-held microphone]\nUSB microphone\nvoice "Hand-held microphone 1" > Hand-held microphone 1 > Interface with four inputs\nvoice "Hand-held microphone 2" > Hand-held microphone 2 > Interface with four inputs\nvoice "USB microphone" > USB microphone',
    by: async (b) => {
      await b.source('Webcam')
      await b.beside('Interface with four inputs')
      await b.beside('2 x Hand-held microphone')
      await b.beside('USB microphone')
      for (const [mic, into] of [
        ['Hand-held microphone 1', 'Interface with four inputs'],
        ['Hand-held microphone 2', 'Interface with four inputs'],
        ['USB microphone', 'Laptop'],
      ] as const) {
        await b.open(mic)
        await b.sound(into)
        await b.close()
      }
    },
    state: 'untested',
    feeds: 1,
    most: 25,
  },
  {
    name: 'a UPS, a strip and a bank',
    from: 'Laptop',
    lines:
      'Laptop\nSmall UPS\nMains strip, six sockets < Small UPS\nPower bank\nLaptop < Mains strip, six sockets\nCamcorder\nCamcorder < Power bank',
    by: async (b) => {
      await b.beside('Small UPS')
      await b.beside('Mains strip, six sockets')
      await b.beside('Power bank')
      await b.open('Mains strip, six sockets')
      await b.powered('Small UPS')
      await b.close()
      await b.open('Laptop')
      await b.powered('Mains strip, six sockets')
      await b.close()
      await b.source('Camcorder')
      await b.page.locator('button.hop[data-stage=camera]').filter({ hasText: 'Camcorder' }).click()
      await b.powered('Power bank')
      await b.page.getByTestId('panel').getByRole('button', { name: 'Close' }).click()
      b.acts += 2
    },
    state: 'untested',
    feeds: 1,
    most: 30,
  },
  {
    name: 'four sticks turned into a four-input card',
    from: 'Desktop with strong graphics',
    lines:
      'Desktop with strong graphics\nFour-input capture card\nCamcorder 1 [Camcorder]\nCamcorder 2 [Camcorder]\nCamcorder 3 [Camcorder]\nCamcorder 4 [Camcorder]',
    by: async (b) => {
      await b.source('4 x Camcorder')
      await b.source('Four-input capture card')
      for (const stick of ['Four-K stick', 'Plain stick', 'Plain stick', 'Plain stick'])
        await b.out('capture', stick)
    },
    state: 'untested',
    feeds: 4,
    most: 25,
  },
  {
    name: 'a camera by USB in place of HDMI, on a bank',
    from: 'Laptop',
    lines:
      'Laptop\nPower bank\nCamera whose USB gives 1080p60 USB > USB 5 Gb/s 2 m > Laptop right\nCamera whose USB gives 1080p60 < Power bank',
    by: async (b) => {
      await b.beside('Power bank')
      await b.source('Camera whose USB gives 1080p60')
      await b.press(hop(b.page, 'camera', 'Camera whose USB'))
      await b.powered('Power bank')
      await b.press(b.page.getByTestId('panel').getByRole('button', { name: 'By USB or by capture?' }))
      await b.press(b.page.locator('[data-way=usb]').getByRole('button', { name: 'Try' }))
      await expect(hop(b.page, 'capture', 'stick')).toHaveCount(0)
      b.acts += 3
    },
    state: 'untested',
    feeds: 1,
    most: 14,
  },
]

/** A rig has one source at least: both ways begin with the same one. */
const first = 'Door camera [Webcam]'

for (const r of rigs) {
  test(`by hand and in lines: ${r.name}`, async ({ page }) => {
    const wrong = complaints(page)
    const told = await say(page, [r.from, first, ...r.lines.split('\n').slice(1)].join('\n'))
    const lines = await verdict(page, told)
    const built = await say(page, `${r.from}\n${first}`)
    const b = new Bench(page, r.keys)
    await r.by(b)
    await b.keep()
    const hands = await verdict(page, built)
    expect(hands).toEqual(lines)
    expect(hands.state).toBe(r.state)
    expect(hands.feeds).toBe(r.feeds + 1)
    console.log(
      `${r.name}${r.keys ? ', by keys alone' : ''}: ${b.acts} acts, ${r.lines.split('\n').length} lines`,
    )
    expect(b.acts).toBeLessThanOrEqual(r.most)
    // One undo for the lot that was kept at once.
    await page.getByRole('button', { name: /^Undo/ }).click()
    await expect(page.locator('button.hop[data-stage=camera]')).toHaveCount(1)
    expect(wrong).toEqual([])
  })
}

/** Answers from an address wait until they are let go. */
async function heldBack(page: Page, address: string) {
  let go = () => undefined as void
  const later = new Promise<void>((done) => (go = done))
  await page.route(address, async (r) => {
    await later
    await r.continue()
  })
  return { asked: page.waitForRequest(address), go }
}

test('what was picked before Keep was pressed is kept with it, however late its answer is', async ({
  page,
}) => {
  const wrong = complaints(page)
  const id = await say(page, `Laptop\n${first}`)
  const b = new Bench(page)
  await b.source('Camcorder')
  const { asked, go } = await heldBack(page, '**/api/act')
  await page.getByRole('button', { name: /^One more source/ }).click()
  await page.getByLabel('Find on the shelf').fill('Action camera with HDMI')
  await expect(page.getByTestId('picker').locator('li').first()).toContainText('Action camera with HDMI')
  await page.keyboard.press('Enter')
  await asked
  const kept = page.waitForResponse((r) => r.url().endsWith('/edits'))
  await held(page).getByRole('button', { name: /^Keep/ }).click()
  await expect(held(page)).toBeVisible()
  go()
  await kept
  await expect(held(page)).toHaveCount(0)
  const { rig } = (await (await page.request.get(url(`/api/rigs/${id}`))).json()) as {
    rig: { items: { label: string }[] }
  }
  expect(rig.items.map((i) => i.label)).toEqual(
    expect.arrayContaining(['Camcorder', 'Action camera with HDMI']),
  )
  expect(wrong).toEqual([])
})

test('what is tried while a change is being kept is held once that is kept', async ({ page, request }) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await page.getByRole('button', { name: 'Try alone' }).first().click()
  await expect(held(page)).toBeVisible()
  const { asked, go } = await heldBack(page, '**/edits')
  await held(page).getByRole('button', { name: /^Keep/ }).click()
  await asked
  const moves = page.waitForResponse('**/api/moves')
  await hop(page, 'lead', 'High Speed HDMI 3 m').focus()
  await page.keyboard.press(']')
  await moves
  go()
  await expect(page.getByRole('button', { name: /^Undo:/ })).toBeVisible()
  await expect(held(page)).toContainText('the lead from Face camera to Stick 1')
  await expect(held(page).getByTestId('before-after')).toBeVisible()
  expect(wrong).toEqual([])
})

test('at a hop: replaced, put in between, the same again, called otherwise, taken out', async ({
  page,
  request,
}) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  const panel = page.getByTestId('panel')
  const bar = held(page)

  // What fits in its place, each with what it would do; what does not fit says why.
  await hop(page, 'capture', 'Stick 1').click()
  await panel.getByRole('button', { name: 'Replace by…' }).click()
  const picker = panel.getByTestId('picker')
  await expect(picker.locator('li[data-fits=yes]').first()).toContainText(
    /snapped|taut|untested|kinked|slack/,
  )
  await expect(picker.getByText(/has no HDMI for the lead that is in/).first()).toBeVisible()
  await picker.getByLabel('Find on the shelf').fill('4K stick')
  await page.keyboard.press('Enter')
  await expect(bar).toContainText('Replace Stick 1 by 4K stick')
  await expect(page.getByTestId('board')).toHaveAttribute('data-held', 'yes')
  await page.keyboard.press('Escape')
  await expect(bar).toHaveCount(0)

  // One more like it, with its way; called otherwise; one act on top of the other, kept as one change.
  await hop(page, 'camera', 'Stage camera').click()
  await panel.getByRole('button', { name: 'One more like it' }).click()
  await expect(bar).toContainText('One more Stage camera')
  await expect(page.locator('button.hop[data-stage=camera]')).toHaveCount(6)
  await panel.getByLabel('Called').fill('Wing camera')
  await page.keyboard.press('Enter')
  await expect(bar).toContainText('One more Stage camera; Called Stage camera Wing camera')
  await bar.getByRole('button', { name: /^Keep/ }).click()
  await expect(bar).toHaveCount(0)
  await expect(hop(page, 'camera', 'Wing camera')).toBeVisible()

  // Into a lead: what goes through it, and then out of it again, so that all is as before.
  const before = await verdict(page, id)
  await page.locator('button.hop[data-stage=lead]').filter({ hasText: 'High Speed HDMI 5 m' }).first().click()
  await panel.getByRole('button', { name: 'Put in between…' }).click()
  await panel.getByLabel('Find on the shelf').fill('splitter')
  await expect(panel.getByTestId('picker').locator('li').first()).toContainText('HDMI splitter')
  await page.keyboard.press('Enter')
  await expect(bar).toContainText('Put HDMI splitter, one to two between')
  await bar.getByRole('button', { name: /^Keep/ }).click()
  await expect(bar).toHaveCount(0)
  await panel.getByRole('button', { name: 'Close' }).click()
  await page.locator('button.hop').filter({ hasText: 'HDMI splitter' }).first().click()
  await panel.getByRole('button', { name: 'Take out', exact: true }).click()
  await expect(bar).toContainText('Take out HDMI splitter, one to two')
  await expect(panel).toHaveCount(0) // what it showed is gone
  await page.keyboard.press('Enter')
  await expect(bar).toHaveCount(0)
  expect(await verdict(page, id)).toEqual(before)

  // A whole tether out, and its things named.
  await hop(page, 'camera', 'Wing camera').click()
  await panel.getByRole('button', { name: 'Take out with its way' }).click()
  await expect(bar).toContainText('Take out Wing camera')
  await expect(bar.getByTestId('held-notes')).toContainText('goes with it')
  await bar.getByRole('button', { name: /^Keep/ }).click()
  await expect(page.locator('button.hop[data-stage=camera]')).toHaveCount(5)
  expect(wrong).toEqual([])
})

test('a completion that was answered for less than what is typed takes all of it', async ({
  page,
  request,
}) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  const line = page.getByTestId('say').getByRole('combobox')
  await line.focus()
  await page.keyboard.type('Door camera [c')
  const option = page.getByRole('option', { name: /^Camcorder\]/ })
  await expect(option).toBeVisible()
  await page.route('**/api/complete', () => undefined) // no answer comes any more
  await page.keyboard.type('amc')
  await expect(option).toBeVisible()
  while ((await option.getAttribute('aria-selected')) !== 'true') await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(line).toHaveValue('Door camera [Camcorder]')
})

test('said in a line by keys alone: completed, marked where it is not understood, held, kept, written out and read again', async ({
  page,
  request,
}, info) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  const line = page.getByTestId('say').getByRole('combobox')
  await line.focus()
  await page.keyboard.type('Door camera [camc')
  await expect(page.getByRole('option', { name: /^Camcorder\]/ })).toBeVisible()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(line).toHaveValue('Door camera [Camcorder]')
  await page.keyboard.type(' > Hyper Speed 5 m')
  await page.keyboard.press('Enter')
  const mark = page.getByTestId('not-understood')
  await expect(mark.locator('mark')).toHaveText('Hyper Speed 5 m')
  await expect(mark).toContainText('says no grade of a lead')
  await expect(mark).toContainText('Premium High Speed HDMI')
  await expect(line, 'what was typed stays').toHaveValue('Door camera [Camcorder] > Hyper Speed 5 m')
  for (let n = 0; n < 'Hyper Speed 5 m'.length; n++) await page.keyboard.press('Backspace')
  await page.keyboard.type('High Speed 5 m > Stick 9 [4K stick] > back 2')
  await expect(mark).toHaveCount(0)
  await page.keyboard.press('Enter')
  await expect(held(page)).toContainText('Held, not kept')
  await expect(page.locator('button.hop[data-stage=camera]')).toHaveCount(6)
  await held(page).getByRole('button', { name: /^Keep/ }).press('Enter')
  await expect(held(page)).toHaveCount(0)
  await expect(hop(page, 'port', 'back 2')).toBeVisible()

  // Written out, judged from the command line, pasted into a new rig: the same verdict.
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'As text' }).click()
  const file = info.outputPath('rig.txt')
  await (await download).saveAs(file)
  const text = readFileSync(file, 'utf8')
  expect(text).toContain('Door camera HDMI > High Speed HDMI 5 m > Stick 9 in')
  const shell = spawnSync('../bin/eventether', ['judge', file], { encoding: 'utf8' })
  expect(shell.stdout.replace(/\s+/g, ' ')).toContain(
    (await page.getByTestId('said').innerText()).replace(/\s+/g, ' '),
  )
  const again = await say(page, text)
  const [a, b] = [await verdict(page, id), await verdict(page, again)]
  expect(b).toEqual(a)
  expect(wrong).toEqual([])
})

test('a mail pasted whole is marked line by line, and nothing is kept', async ({ page, request }) => {
  await loft(request)
  await page.goto(url('/'))
  await page.getByRole('button', { name: 'Say it in lines' }).click()
  const before = (await (await request.get(url('/api/rigs'))).json()) as unknown[]
  const mail = 'Dear all,\n\nplease find the list below.\nCam A [Camcorder] > PC [Laptop]\nYours, A'
  await page.getByTestId('from-text').locator('textarea').fill(mail)
  await page.getByRole('button', { name: /^Judge it/ }).click()
  const alert = page.getByTestId('from-text').getByRole('alert')
  await expect(alert).toContainText('3 to mend')
  await expect(alert).toContainText('line 1')
  await expect(alert).toContainText('line 5')
  await expect(page.getByTestId('from-text').locator('textarea')).toHaveValue(mail)
  expect(((await (await request.get(url('/api/rigs'))).json()) as unknown[]).length).toBe(before.length)
})
