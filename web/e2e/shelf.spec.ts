import { expect, test } from '@playwright/test'
import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { complaints, held, loft, url } from './helpers'

/** A small sound EDID that prefers 1080p60, as bytes; sealed by its checksum. */
function edid(): Buffer {
  const b = Buffer.alloc(128)
  Buffer.from([0, 255, 255, 255, 255, 255, 255, 0]).copy(b)
  Buffer.from([0x51, 0xf4, 0x34, 0x12]).copy(b, 8)
  Buffer.from([1, 4, 0xa5]).copy(b, 18)
  b.fill(1, 38, 54)
  Buffer.from('023a801871382d40582c450058542100001e', 'hex').copy(b, 54)
  for (const at of [72, 90, 108]) b[at + 3] = 0x10
  b[127] = (256 - (b.subarray(0, 127).reduce((a, x) => a + x, 0) % 256)) % 256
  return b
}

test('search, change in place, duplicate, compare, take off and undo', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto(url('/shelf'))
  await expect(page.getByRole('main')).toContainText('owned of')
  await page.getByRole('searchbox').fill('hall switcher')
  await expect(page.getByText('Nothing on the shelf answers to that.')).toBeVisible()
  await page.getByRole('searchbox').fill('four-input')
  await page.getByRole('button', { name: /^Four-input SDI switcher/ }).click()
  const sheet = page.getByTestId('sheet')
  await sheet.getByRole('button', { name: 'Duplicate' }).click()
  await expect(sheet.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue(
    'Four-input SDI switcher, copy',
  )
  await sheet.getByRole('textbox', { name: 'Name', exact: true }).fill('Second switcher')
  await sheet.getByRole('textbox', { name: 'Name', exact: true }).press('Enter')
  await expect(sheet).toContainText('state 2')
  await sheet.getByRole('combobox', { name: 'Shows all inputs on one output' }).selectOption('no')
  await expect(sheet).toContainText('state 3')
  await sheet.getByRole('textbox', { name: 'Price', exact: true }).fill('a lot')
  await sheet.getByRole('textbox', { name: 'Price', exact: true }).press('Enter')
  await expect(sheet.getByRole('alert')).toContainText('“a lot” is no amount')
  await expect(sheet.getByRole('textbox', { name: 'Price', exact: true })).toHaveValue('a lot')
  await sheet.getByRole('textbox', { name: 'Price', exact: true }).fill('99.50')
  await sheet.getByRole('textbox', { name: 'Price', exact: true }).press('Enter')
  await expect(sheet).toContainText('state 4')

  await page.getByRole('searchbox').fill('switcher')
  await page.getByRole('button', { name: 'Compare Four-input SDI switcher' }).click()
  const compare = page.getByTestId('compare')
  await expect(compare.locator('tr[data-differs=true]').filter({ hasText: 'Price' })).toContainText(
    '99.50 EUR',
  )
  await compare.getByRole('button', { name: 'Close' }).click()
  await sheet.getByRole('button', { name: 'Take off the shelf' }).click()
  await expect(page.getByText('“Second switcher” was taken off the shelf')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(sheet.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue('Second switcher')
  expect(wrong).toEqual([])
})

test('an EDID dropped on the shelf makes the input list, with a before and after; a cut one is marked partial', async ({
  page,
}) => {
  await page.goto(url('/shelf?open=plain-stick'))
  const sheet = page.getByTestId('sheet')
  await sheet.getByRole('button', { name: 'Duplicate' }).click()
  await expect(sheet).toContainText('Copied from Plain stick')
  const bytes = edid()
  await sheet.getByLabel('Choose EDID files').setInputFiles([
    { name: 'cut.bin', mimeType: 'application/octet-stream', buffer: bytes.subarray(0, 100) },
    { name: 'note.txt', mimeType: 'text/plain', buffer: Buffer.from('1080p60 and so on') },
  ])
  await expect(page.getByTestId('edid-read').first()).toContainText(
    'Read in part only. Byte 100: cut off after 100 bytes',
  )
  await expect(page.getByTestId('edid-read').last()).toContainText('this is text, not the bytes of an EDID')

  // Dropped as a person drops it.
  const drop = await page.evaluateHandle(
    (data) => {
      const t = new DataTransfer()
      t.items.add(new File([new Uint8Array(data)], 'stick.bin'))
      return t
    },
    [...bytes],
  )
  await page.getByTestId('drop').dispatchEvent('drop', { dataTransfer: drop })
  const read = page.getByTestId('edid-read')
  await expect(read).toContainText('stick.bin: TOT')
  await expect(read).toContainText('1080p50 goes')
  await read.getByRole('button', { name: 'Take this list' }).click()
  await expect(sheet).toContainText('Input list from the EDID stick.bin')
  await sheet
    .getByTestId('face')
    .getByRole('link', { name: /HDMI, in/ })
    .click()
  await expect(sheet.locator('[data-port="in"]')).toContainText('one picture')
  await expect(sheet.locator('[data-port="in"]')).toContainText('from its EDID')
  // The shell reads the same bytes the same way.
  const shell = spawnSync('../bin/eventether', ['edid', '-', '--json'], { input: bytes })
  expect(shell.status).toBe(0)
  expect(JSON.parse(shell.stdout.toString()).preferred).toMatchObject({
    width: 1920,
    height: 1080,
    rateHz: 60,
  })
})

test('a listing of formats makes the delivered list; what was cut off is named by line', async ({ page }) => {
  await page.goto(url('/shelf?open=plain-stick'))
  const sheet = page.getByTestId('sheet')
  await sheet.getByRole('button', { name: 'Duplicate' }).click()
  await expect(sheet).toContainText('Copied from Plain stick')
  await sheet.getByText('Paste a listing of formats').click()
  const box = sheet.getByRole('textbox', { name: 'Paste a listing of formats' })
  await box.fill('Hallo Welt')
  await sheet.getByRole('button', { name: 'Read it' }).click()
  await expect(sheet.getByRole('alert')).toContainText('This listing cannot be used: line 1')
  await box.fill(
    "\t[0]: 'NV12' (Y/CbCr 4:2:0)\n\t\tSize: Discrete 1920x1080\n\t\t\tInterval: Discrete 0.017s (60.000 fps)\n\t\tSize: Discrete 12",
  )
  await sheet.getByRole('button', { name: 'Read it' }).click()
  const read = page.getByTestId('formats-read')
  await expect(read).toContainText('Line 4')
  await expect(read).toContainText('YUY2 1920×1080 to 60 goes')
  await read.getByRole('button', { name: 'Take it all the same, as partial' }).click()
  await expect(sheet).toContainText('Delivered list from a listing')
})

test('a measured fact is offered to a rig as one edit; a frozen rig stays as it was', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  const newer = page.getByTestId('newer')
  await expect(newer).toContainText(/The shelf knows \d things better/)
  await newer.getByText(/The shelf knows \d things better/).click()
  await expect(newer).toContainText(/6\.5 \(5 to 8\), estimate → 6\.\d.*measured 20/) // another test may have measured it since
  await newer.getByRole('button', { name: 'Take the newer sheet of Face camera' }).click()
  await expect(held(page)).toContainText('Take the newer sheet of Face camera')
  await held(page).getByRole('button', { name: /Keep/ }).click()
  await expect(newer).toContainText(/The shelf knows (one thing|\d things) better/)
  await expect(newer).not.toContainText('Face camera')
  await request.post(url(`/api/rigs/${id}/freeze`), { data: { frozen: true } })
  await page.reload()
  await expect(page.getByText('frozen for a past show')).toBeVisible()
  await expect(newer).toHaveCount(0)
})

test('out as JSON and CSV, in again', async ({ page }, info) => {
  await page.goto(url('/shelf?open=hall-camera'))
  await expect(page.getByTestId('sheet')).toBeVisible()
  for (const kind of ['JSON', 'CSV']) {
    const download = page.waitForEvent('download')
    await page.getByRole('link', { name: `Export this as ${kind}` }).click()
    const file = info.outputPath(`shelf.${kind.toLowerCase()}`)
    await (await download).saveAs(file)
    expect(readFileSync(file, 'utf8')).toContain('Hall camera')
    await page.getByLabel('Import JSON or CSV').setInputFiles(file)
    await expect(page).toHaveURL(/open=hall-camera-\d/)
    await page.goto(url('/shelf?open=hall-camera'))
  }
  await page
    .getByLabel('Import JSON or CSV')
    .setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from('kind,name\nkite,K\n') })
  await expect(page.getByRole('alert')).toContainText('kite')
})

test('what a hub, a strip and a UPS give is on their sheets, with the care mains wants', async ({
  page,
  request,
}) => {
  const items = (await (await request.get(url('/api/shelf'))).json()) as {
    entry: { id: string; gear: { kind: string } }
  }[]
  const first = (kind: string) => items.find((i) => i.entry.gear.kind === kind)!.entry.id
  await page.goto(url(`/shelf?open=${first('strip')}`))
  const sheet = page.getByTestId('sheet')
  await expect(sheet).toContainText('licensed electrician')
  await sheet.getByRole('button', { name: 'Change: May carry' }).click()
  await sheet.getByRole('textbox', { name: 'May carry', exact: true }).fill('1000')
  await expect(sheet.getByRole('alert')).toContainText('0.5 to 100 amperes')
  await expect(sheet.getByRole('button', { name: 'Keep', exact: true })).toBeDisabled()
  await page.goto(url(`/shelf?open=${first('ups')}`))
  await expect(sheet).toContainText('Gives, apparent')
  await page.goto(url(`/shelf?open=${first('hub')}`))
  const own = sheet.getByRole('combobox', { name: 'Has a supply of its own' })
  const was = await own.inputValue()
  const kept = page.waitForResponse((r) => r.request().method() !== 'GET' && r.url().includes('/api/shelf'))
  await own.selectOption(was === 'yes' ? 'no' : 'yes')
  await kept
  await page.reload()
  await expect(own).toHaveValue(was === 'yes' ? 'no' : 'yes')
})

test('a sheet reads as a page: sockets drawn, pictures as a grid changed in place, an estimate that looks like one', async ({
  page,
}) => {
  await page.goto(url('/shelf?open=four-input-switcher'))
  const sheet = page.getByTestId('sheet')
  await sheet.getByRole('button', { name: 'Duplicate' }).click()
  await expect(sheet).toContainText('Copied from Four-input switcher')
  const face = sheet.getByTestId('face')
  await expect(face.getByRole('link')).toHaveCount(6)
  await face.getByRole('link', { name: /^input 3: HDMI, in, 11 pictures/ }).click()
  await expect(sheet.locator('#socket-in-3')).toBeFocused()
  const grid = sheet.getByRole('table', { name: 'Pictures of input 3' })
  const pressed = grid.locator('button[aria-pressed=true]')
  const before = await pressed.count()
  await grid.getByRole('button', { name: /^1920×1080 ?p?120$/ }).click()
  await expect(pressed).toHaveCount(before + 1)
  await expect(sheet).toContainText('state 2')
  await sheet.getByRole('combobox', { name: 'Another size input 3' }).selectOption('1920×1080i')
  await grid.getByRole('button', { name: '1920×1080i 25' }).click()
  await expect(grid.getByRole('button', { name: '1920×1080i25' })).toHaveAttribute('aria-pressed', 'true')
  await grid.getByRole('button', { name: '1920×1080i25' }).click()
  await expect(pressed).toHaveCount(before + 1)

  // Estimated until measured, and drawn so.
  const draw = sheet.getByText('est. · estimate').filter({ hasText: 'W' }).first()
  await expect(draw).toContainText('~18 (10 to 25 W)')
  await expect(sheet.locator('[data-scale=estimate]').first()).toBeVisible()
  await sheet.getByRole('button', { name: 'Change: Draw while sending' }).click()
  await sheet.getByRole('textbox', { name: 'Draw while sending', exact: true }).fill('17')
  await sheet.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(sheet).toContainText('17 W · measured')
  await expect(sheet.locator('[data-scale=known]').first()).toBeVisible()
})

test('what a thing does to sound stands on its sheet, and is changed there', async ({ page }) => {
  const wrong = complaints(page)
  await page.goto(url('/shelf'))
  await page.getByRole('button', { name: 'Lapel microphone on a lead' }).first().click()
  const sheet = page.getByTestId('sheet')
  await expect(sheet.getByRole('combobox', { name: 'It is fed by' })).toHaveValue('plug-in')
  await sheet.getByRole('combobox', { name: 'Gives', exact: true }).selectOption('consumer-line')
  await expect(sheet).toContainText('Gives: line, −10 dBV')
  await page.reload()
  await page.getByRole('button', { name: 'Lapel microphone on a lead' }).first().click()
  await expect(sheet.getByRole('combobox', { name: 'Gives', exact: true })).toHaveValue('consumer-line')
  expect(wrong).toEqual([])
})

test('a thing begins like another, gets sockets in its drawing, and goes back step by step', async ({
  page,
}) => {
  const wrong = complaints(page)
  await page.goto(url('/shelf'))
  await page.getByRole('button', { name: 'New thing' }).click()
  const form = page.getByTestId('new-thing')
  await expect(form.getByRole('button', { name: 'Put it on the shelf' })).toBeDisabled()
  await form.getByLabel('Its name').fill('Attic mixer')
  await form.getByLabel('Begins like').selectOption({ label: 'Four-input capture card' })
  await form.getByRole('button', { name: 'Put it on the shelf' }).click()
  const sheet = page.getByTestId('sheet')
  await expect(sheet.getByRole('textbox', { name: 'Name', exact: true })).toHaveValue('Attic mixer')

  const sockets = page.getByTestId('sockets')
  const before = await sockets.getByRole('link').count()
  await sockets.getByRole('combobox', { name: 'Add a socket' }).selectOption({ label: 'SDI, out' })
  await expect(sockets.getByRole('link')).toHaveCount(before + 1)
  const one = sockets.locator('[data-port="bnc-out"]')
  await one.getByRole('textbox', { name: 'Name as printed bnc-out' }).fill('Line 2')
  await one.getByRole('textbox', { name: 'Name as printed bnc-out' }).press('Enter')
  await expect(sockets.getByRole('link', { name: /^Line 2: SDI, out/ })).toBeVisible()
  await one.getByRole('combobox', { name: 'SDI link bnc-out' }).selectOption('6G')
  await expect(sockets.getByRole('link', { name: 'Line 2: SDI, out, 6G-SDI' })).toBeVisible()
  await one.getByRole('button', { name: 'Take this socket away' }).click()
  await expect(sockets.getByRole('link')).toHaveCount(before)
  await sheet.getByRole('button', { name: 'Undo: Without Line 2' }).click()
  await expect(sockets.getByRole('link', { name: 'Line 2: SDI, out, 6G-SDI' })).toBeVisible()
  await sheet.getByRole('button', { name: 'History' }).click()
  await sheet
    .locator('li', { hasText: 'Put on the shelf' })
    .getByRole('button', { name: 'Back to this' })
    .click()
  await expect(sockets.getByRole('link')).toHaveCount(before)
  await expect(sheet).toContainText('As in state 1')

  await page.getByRole('button', { name: 'Add this picture' }).click()
  await expect(sheet.getByTestId('delivers')).toContainText('MJPEG 1920×1080 up to 30')
  expect(wrong).toEqual([])
})

test('what came with the demo is marked, and leaves and comes back with one press', async ({ page }) => {
  await page.goto(url('/shelf'))
  await expect(page.getByText('of the demo').first()).toBeVisible()
  await page.getByRole('button', { name: /^Take the demo's \d+ things off/ }).click()
  await expect(page.getByText(/^\d+ things were taken off the shelf/)).toBeVisible()
  await expect(page.getByText('of the demo')).toHaveCount(0)
  await page.getByRole('status').getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('of the demo').first()).toBeVisible()
})
