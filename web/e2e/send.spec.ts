import { expect, test } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { complaints, held, loft, url } from './helpers'

const destination = 'Class channel'

test('one thing changed moves the figures at once, is kept, and taken back', async ({ page, request }) => {
  const wrong = complaints(page)
  const id = await loft(request, 'Marlpit Puppet Loft, even')
  await page.goto(url(`/rigs/${id}/send`))
  const block = page.locator(`[data-destination="${destination}"]`)
  await expect(block.getByTestId('kbps')).toHaveText('4000 kb/s')
  await expect(block).toContainText('4.37 Mb/s of 6.28 Mb/s upload')

  await block.getByRole('button', { name: '480p29.97', exact: true }).click()
  await expect(held(page)).toContainText('480p29.97 to Class channel')
  await expect(block.getByTestId('kbps')).toHaveText('1500 kb/s')
  await expect(block).toContainText('1.74 Mb/s of 6.28')
  await expect(page.locator('[data-line="size"] b').first()).toHaveText('854×480')

  // The slider by the keyboard; from key to new figures on the screen, measured here and printed, not judged.
  const slider = block.getByRole('slider')
  await slider.focus()
  const took: number[] = []
  for (let i = 0; i < 12; i++) {
    const want = `${1500 + 100 * (i + 1)} kb/s`
    took.push(
      await page.evaluate(
        ([text]) =>
          new Promise<number>((done) => {
            const from = performance.now()
            const at = document.querySelector('[data-line="bitrate"] b')!
            const look = () =>
              at.isConnected && document.querySelector('[data-line="bitrate"] b')!.textContent === text
                ? requestAnimationFrame(() => done(performance.now() - from))
                : requestAnimationFrame(look)
            document.activeElement!.dispatchEvent(
              new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }),
            )
            look()
          }),
        [want],
      ),
    )
  }
  took.sort((a, b) => a - b)
  console.log(
    `key to new figures on the Send screen: median ${took[6]!.toFixed(0)} ms, slowest ${took[11]!.toFixed(0)} ms`,
  )

  await page.keyboard.press('Escape')
  await expect(held(page)).toHaveCount(0)
  await expect(block.getByTestId('kbps')).toHaveText('4000 kb/s')

  // A spot of the chart, by the keyboard.
  await block
    .getByTestId('region')
    .getByRole('button', { name: /^480p29.97/ })
    .focus()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(held(page)).toHaveCount(0)
  await expect(block.getByTestId('kbps')).toHaveText('1500 kb/s')
  // And the sheet says what it was.
  await page.getByLabel('Compared with').selectOption('1')
  await expect(page.locator('[data-line="bitrate"]').first()).toContainText('was 4000 kb/s')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(block.getByTestId('kbps')).toHaveText('4000 kb/s')
  expect(wrong).toEqual([])
})

test('the sheet: copied by value and as a whole, taken as files', async ({ page, request, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/send`))
  const clip = () => page.evaluate(() => navigator.clipboard.readText())
  await page.getByRole('button', { name: 'Copy: Keyframe interval in frames' }).click()
  expect(await clip()).toBe('60')
  await page.getByRole('button', { name: /^Copy the command: Stream/ }).click()
  expect(await clip()).toMatch(/^ffmpeg .*libx264.*class-channel\.flv$/)
  await page.getByRole('tab', { name: 'Recording of programme' }).click()
  await page.getByRole('button', { name: 'Copy all of it: Recording of programme' }).click()
  expect(await clip()).toContain('Container: fragmented MP4')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Markdown' }).click(),
  ])
  expect(readFileSync(await file.path(), 'utf8')).toContain('| Keyframe interval in frames | 60 frames |')
  // Nobody asks for a key.
  await expect(page.locator('input[type=password]')).toHaveCount(0)
  await expect(page.locator('body')).toContainText('they are not kept here')
})

test('a computer is measured, broken off, and a measurement from another is taken into the rig and onto the shelf', async ({
  page,
  request,
}) => {
  const id = await loft(request, 'Marlpit Puppet Loft, even')
  await page.goto(url(`/rigs/${id}/send`))
  const measure = page.getByTestId('measure')
  await measure.getByRole('textbox').fill('/no/such/folder')
  await measure.getByRole('button', { name: 'Measure this computer' }).click()
  await expect(measure.getByRole('alert')).toContainText('/no/such/folder')
  await measure.getByRole('textbox').fill('')
  await measure.getByRole('button', { name: 'Measure this computer' }).click()
  await expect(measure.getByRole('progressbar')).toBeVisible()
  await measure.getByRole('button', { name: 'Break off' }).click()
  await expect(measure).toContainText('broken off; nothing is left behind')

  const bring = (text: string) =>
    measure
      .locator('input[type=file]')
      .setInputFiles({ name: 'm.json', mimeType: 'application/json', buffer: Buffer.from(text) })
  await bring('{"format":"eventether-measure/7"}')
  await expect(measure.getByRole('alert')).toContainText('eventether-measure/1')
  const speed = (value: number) => ({
    value,
    low: value * 0.9,
    high: value * 1.1,
    from: 'measured',
    at: '2026-11-20',
  })
  await bring(
    JSON.stringify({
      format: 'eventether-measure/1',
      host: 'studio',
      at: '2026-11-20T10:00:00Z',
      size: '1920×1080',
      steps: [{ name: 'H.264 at veryfast', low: 540, value: 600, high: 660, unit: 'Mpx/s' }],
      computes: {
        encodeMpxS: speed(600),
        convertMpxS: speed(5000),
        h264MpxS: speed(3000),
        hardware: 'none',
        measured: { at: '2026-11-20', host: 'studio' },
      },
    }),
  )
  await measure.getByRole('button', { name: 'These are the figures of Loft computer' }).click()
  await expect(page.locator('body')).toContainText('Measured on 2026-11-20, on studio')
  // A faster computer may code at a slower preset.
  await expect(page.locator('[data-line="preset"] b').first()).not.toHaveText('ultrafast')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.locator('body')).toContainText('Nobody has measured Loft computer')
})

test('a container that dies with the power is told, a programme in a browser has nothing to type', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/send`))
  const kept = page.locator('[data-recording="0"]')
  await kept.getByRole('combobox', { name: 'Container 1' }).selectOption('mp4')
  await expect(kept).toContainText('everything since its start is lost')
  await page.getByRole('button', { name: 'Put back' }).click()
  await kept.getByText('A test recording says it better').click()
  await kept.getByRole('textbox', { name: 'where the file is on this computer' }).fill('/no/film.mp4')
  await kept.getByRole('button', { name: 'Read it' }).click()
  await expect(kept.getByRole('alert')).toContainText('/no/film.mp4')
  for (const [name, v] of [
    ['Size of the test recording 1', '373'],
    ['Length of the test recording 1', '5'],
    ['What a player shows of it 1', '18000'],
  ]) {
    await kept.getByRole('textbox', { name }).fill(v!)
    await kept.getByRole('textbox', { name }).press('Enter')
  }
  await expect(kept).toContainText('9947 kb/s by size and time. The file says 18000 kb/s of itself')
  await kept.getByRole('button', { name: 'Plan with it' }).click()
  await expect(kept).toContainText('Measured by a test recording')

  const board = (await (await request.get(url(`/api/rigs/${id}`))).json()) as {
    revision: number
    rig: { show: { program: { kind: string } } }
  }
  const show = { ...board.rig.show, program: { kind: 'browser-studio' } }
  const edit = await request.post(url(`/api/rigs/${id}/edits`), {
    data: { from: board.revision, what: 'studio', edits: [{ do: 'show', show }] },
  })
  expect(edit.ok()).toBe(true)
  await page.reload()
  const block = page.locator(`[data-destination="${destination}"]`)
  await expect(block).toContainText('A studio in the browser codes by itself')
  await expect(block.getByRole('slider')).toHaveCount(0)
  await expect(page.locator('[data-line="bitrate"]')).toHaveCount(0)
  await page.getByRole('tab', { name: 'Sources to choose in the program' }).click()
  await expect(page.locator('[data-part="sources"]')).toContainText('Plain stick')
})

test('nothing is wider than a phone', async ({ page, request }) => {
  const id = await loft(request)
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(url(`/rigs/${id}/send`))
  await expect(page.getByTestId('region')).toBeVisible()
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
})

test('the line: a measurement typed, a table brought with a bad line, a kind of destination to begin from', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}/send`))
  const readings = page.getByTestId('readings')
  const before = await readings.textContent()
  await readings.getByRole('textbox', { name: 'Measured just now, Mb/s' }).fill('5,5')
  await readings.getByRole('button', { name: 'Add it' }).click()
  await expect(readings).not.toHaveText(before!)

  // A slip of the finger is changed and taken away; what is no number stays typed.
  await readings.getByRole('textbox', { name: 'Measured just now, Mb/s' }).fill('5 km')
  await readings.getByRole('button', { name: 'Add it' }).click()
  await expect(readings.getByRole('alert')).toContainText('5 km')
  await expect(readings.getByRole('textbox', { name: 'Measured just now, Mb/s' })).toHaveValue('5 km')
  await readings.getByRole('textbox', { name: 'Measured just now, Mb/s' }).fill('')
  await readings.getByRole('button', { name: /measurements? of the line/ }).click()
  const list = readings.getByTestId('reading-list')
  const n = await list.locator('li').count()
  const last = readings.getByRole('textbox', { name: `Measurement ${n}` })
  await expect(last).toHaveValue('5.5')
  await last.fill('6500 kb/s')
  await last.press('Enter')
  await expect(last).toHaveValue('6.5')
  await readings.getByRole('button', { name: `Take measurement ${n} away` }).click()
  await expect(list.locator('li')).toHaveCount(n - 1)
  await readings.locator('input[type=file]').setInputFiles({
    name: 'line.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('\ufeffdate;upload\r\n20.11.2026 19:30;5,1\r\n21.11.2026 19:30;fast\r\n'),
  })
  await expect(readings).toContainText('line 3')
  await readings.locator('input[type=file]').setInputFiles({
    name: 'prose.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from('my line is quite fast'),
  })
  await expect(readings.getByRole('alert')).toContainText('no column mbps')

  await page.goto(url(`/rigs/${id}/show`))
  await page
    .getByRole('combobox', { name: 'begin from a kind Class channel' })
    .selectOption('Reliable UDP only')
  await expect(page.getByRole('combobox', { name: 'Transport Class channel' })).toHaveValue('srt')
  // One's own limits go out as a file and come in again; one that contradicts itself is refused by name.
  const [out] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Its limits as a file' }).click(),
  ])
  const mine = JSON.parse(readFileSync(await out.path(), 'utf8')) as { ingest: Record<string, unknown> }
  const bring = (text: string) =>
    page
      .locator('[data-destination="Class channel"] input[type=file]')
      .setInputFiles({ name: 'mine.json', mimeType: 'application/json', buffer: Buffer.from(text) })
  await bring('{"format":"something else"}')
  await expect(page.getByRole('alert')).toContainText('want “eventether-destination/1”')
  await bring(JSON.stringify({ ...mine, ingest: { ...mine.ingest, minVideoKbps: 9999, maxVideoKbps: 100 } }))
  await expect(page.getByRole('alert').last()).toContainText('no bitrate is both')
  await bring(JSON.stringify({ ...mine, ingest: { ...mine.ingest, keyframeSeconds: 1 } }))
  await page.getByLabel('Goes to air at').fill('19:30')
  await expect
    .poll(async () => {
      const now = (await (await request.get(url(`/api/rigs/${id}`))).json()) as {
        rig: { show: { startsAt?: string } }
      }
      return now.rig.show.startsAt
    })
    .toBe('19:30')
  await page.goto(url(`/rigs/${id}/send`))
  await expect(page.locator('[data-line="transport"]').first()).toContainText('reliable UDP')
  await expect(page.locator('[data-line="keyframe-seconds"] b').first()).toHaveText('1 s')
})

test('the line is tried: to the stand-in it says nothing of the line; an address that cannot be tried is refused by name, the key forgotten', async ({
  page,
  request,
}) => {
  test.slow()
  const wrong = complaints(page)
  await page.goto(url(`/rigs/${await loft(request)}/send`))
  await page.getByRole('button', { name: 'Try the line' }).click()
  const form = page.getByTestId('try-line')
  await expect(form.getByRole('button', { name: /^Send to the stand-in, \d+ kb\/s$/ })).toBeVisible()
  await form.getByLabel('Address, without the key').fill('rtmp://localhost/live')
  await form.getByLabel('Key', { exact: true }).fill('live_secret-42')
  await form.getByRole('button', { name: /^Send to localhost/ }).click()
  await expect(form).toContainText('the address is this very computer')
  await expect(form.getByLabel('Key', { exact: true })).toHaveValue('')
  await form.getByLabel('Address, without the key').fill('')
  await form.getByLabel('How long').selectOption('10')
  await form.getByRole('button', { name: /^Send to the stand-in/ }).click()
  await expect(form.getByRole('status')).toContainText('Mb/s arriving')
  await expect(page.getByTestId('tried')).toContainText('It says nothing of the line.', { timeout: 40_000 })
  await expect(page.getByTestId('takes')).toHaveCount(0)
  expect(wrong).toEqual([])
})
