import { expect, test } from '@playwright/test'
import { spawnSync } from 'node:child_process'
import { complaints, held, hop, loft, sentence, url } from './helpers'

test('move a plug and change a mode on the board, see why, export, judge the file from the shell', async ({
  page,
  request,
}, info) => {
  const wrong = complaints(page)
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await expect(sentence(page)).toContainText('five moves')
  const hub = page.locator('[data-limit="bus:hub..fast"]')
  await expect(hub).toHaveAttribute('data-state', 'snapped')

  // Pick up the plug of Stick 1 and carry it to a free socket at the back; the line shows the result before it is let go.
  const plug = page.locator('[data-plug="face-plug"]')
  const socket = page.locator('[data-socket="pc.back-2"]')
  await plug.scrollIntoViewIfNeeded()
  const a = (await plug.boundingBox())!
  await page.mouse.move(a.x + 12, a.y + 12)
  await page.mouse.down()
  await page.mouse.move(a.x + 60, a.y + 60)
  const ring = socket.locator('circle')
  await expect(ring).toHaveAttribute('r', '8')
  const b = (await ring.boundingBox())!
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 6 })
  await expect(held(page)).toContainText('Put Stick 1 into back 2')
  await expect(page.getByTestId('board')).toHaveAttribute('data-held', 'yes')
  await expect(hub).toHaveAttribute('data-state', 'slack')
  await page.mouse.up()
  await expect(held(page)).toHaveCount(0)
  await expect(sentence(page)).toContainText('four moves')

  // Step the stage camera's mode by keyboard: held, put back, held again, kept.
  const mode = page.locator('button.hop[data-stage="socket"]').filter({ hasText: '1080p25' })
  await mode.focus()
  await page.keyboard.press(']')
  await expect(held(page)).toContainText('Set Stage camera to 1080p59.94')
  await page.keyboard.press('Escape')
  await expect(held(page)).toHaveCount(0)
  await mode.focus()
  await page.keyboard.press(']')
  await page.keyboard.press(']')
  await expect(held(page)).toContainText('Set Stage camera to 1080p29.97')
  await page.keyboard.press('Enter')
  await expect(held(page)).toHaveCount(0)
  await expect(sentence(page)).toContainText('three moves')
  await expect(page.locator('[data-finding^="cadence"]')).toHaveCount(0)

  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Export' }).click()
  const file = info.outputPath('rig.json')
  await (await download).saveAs(file)
  const shell = spawnSync('../bin/eventether', ['judge', file], { encoding: 'utf8' })
  expect(shell.status).toBe(1)
  expect(shell.stdout).toContain('three moves')
  expect(shell.stdout.replace(/\s+/g, ' ')).toContain(
    (await sentence(page).locator('span').last().innerText()).replace(/\s+/g, ' '),
  )
  expect(wrong).toEqual([])
})

test('a hop opens to its sum, its facts and its fixes; a fact is changed in place and undone', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await hop(page, 'camera', 'Face camera').click()
  const panel = page.getByTestId('panel')
  await expect(panel).toContainText('60 set-up + 15 rehearsal + 120 show')
  await expect(panel).toContainText('~6.5 (5 to 8 W) est.')
  await expect(panel).toContainText("maker's charger only")
  const rule = panel.getByRole('link', { name: 'Run time = Wh × usable share ÷ draw' })
  await expect(rule).toHaveAttribute('href', '/rules#run-time')
  await panel.getByRole('button', { name: 'Change: battery capacity of Face camera' }).click()
  await panel.getByRole('textbox', { name: 'battery capacity of Face camera' }).fill('9000')
  await panel.getByRole('button', { name: 'Try it' }).click()
  await expect(held(page)).toContainText('battery capacity of Face camera: 9000 mAh')
  await held(page).getByRole('button', { name: /Keep/ }).click()
  await expect(panel).toContainText('9000 mAh as given')
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(0)
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(1)
  await page.keyboard.press('Control+Shift+Z')
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(0)

  await page.getByRole('button', { name: 'History' }).click()
  const history = page.getByRole('dialog', { name: 'History' })
  await expect(history).toContainText('undid: battery capacity')
  await history.getByRole('button', { name: 'Look' }).last().click()
  await expect(page.getByText('The rig as it was: revision 1')).toBeVisible()
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(1)
  await page.getByRole('button', { name: 'Back to the newest' }).click()
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(0)
})

test('by keyboard alone: from hop to hop, pick up a plug, lengthen a lead, swap a device', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  const first = page.locator('button.hop').first()
  await first.focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  await expect(page.locator('button.hop:focus')).toHaveAttribute('data-stage', 'port')
  await page.keyboard.press('p')
  await expect(held(page)).toContainText(/Put Four-K stick into|Change places/)
  await page.keyboard.press('Escape')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('ArrowLeft')
  await expect(page.locator('button.hop:focus')).toHaveAttribute('data-stage', 'lead')
  await page.keyboard.press(']')
  await expect(held(page)).toContainText('0.5 m long')
  await page.keyboard.press('[')
  await expect(held(page)).toContainText('30 m long')
  await page.keyboard.press('Escape')
  await expect(held(page)).toHaveCount(0)
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  const panel = page.getByTestId('panel')
  await expect(panel).toContainText('Another device')
  await panel
    .getByText('Replace Four-K stick by a full-HD stick')
    .locator('..')
    .getByRole('button', { name: 'Try' })
    .click()
  await expect(held(page)).toContainText('Replace Four-K stick by a full-HD stick')
  await page.keyboard.press('Escape')
  await expect(held(page)).toHaveCount(0)
  await expect(panel).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(panel).toHaveCount(0)
})

test('two people: what one keeps is seen by the other at once, what is held stays, and nothing is overwritten', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await hop(page, 'camera', 'Face camera').click()
  await page
    .getByTestId('panel')
    .getByText('Run Face camera from the mains')
    .locator('..')
    .getByRole('button', { name: 'Try' })
    .click()
  await expect(held(page)).toBeVisible()
  const other = await request.post(url(`/api/rigs/${id}/edits`), {
    data: { from: 1, edits: [{ do: 'name', name: 'Named elsewhere' }], what: 'named' },
  })
  expect(other.ok()).toBe(true)
  await expect(page.getByRole('button', { name: 'Rename the rig: Named elsewhere' })).toBeVisible()
  await expect(held(page)).toContainText('Run Face camera from the mains')
  await held(page).getByRole('button', { name: /Keep/ }).click()
  await expect(held(page)).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Rename the rig: Named elsewhere' })).toBeVisible()
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(0)
})

test('the name is changed in place; a long one does not break the page', async ({ page, request }) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await page.getByRole('button', { name: /Rename the rig/ }).click()
  const long =
    'The very long name of a rig that somebody wrote out in full because nobody stopped them from doing it, in the attic'
  await page.getByRole('textbox', { name: 'Rename the rig' }).fill(long)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: `Rename the rig: ${long}` })).toBeVisible()
  const wide = await page.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  )
  expect(wide).toBeLessThanOrEqual(0)
})

test('what no rule looks at is named, and so is where pictures go besides', async ({ page, request }) => {
  // A loop to a recorder, by a lead far too long: not on the way to the computer, and judged all the same. Sound is not described.
  const file = await (await request.get(url(`/api/rigs/${await loft(request)}/file?revision=1`))).json()
  const camera = file.items.find((i: { id: string }) => i.id === 'cam-stage')
  const stick = file.items.find((i: { id: string }) => i.id === 'stick-stage')
  stick.gear.ports.push({
    ...stick.gear.ports.find((p: { direction: string }) => p.direction === 'in'),
    id: 'loop',
    direction: 'out',
  })
  delete file.sound
  file.items.push({
    id: 'recorder',
    label: 'Recorder',
    gear: {
      kind: 'recorder',
      name: 'Recorder',
      ports: [{ id: 'in', connector: 'hdmi-a', direction: 'in', modes: camera.gear.ports[0].modes }],
    },
  })
  file.leads.push({
    id: 'loop-lead',
    from: 'stick-stage.loop',
    to: 'recorder.in',
    grade: 'standard',
    lengthM: 40,
  })
  const kept = await request.post(url('/api/rigs'), { data: file })
  expect(kept.ok(), await kept.text()).toBe(true)
  await page.goto(url(`/rigs/${((await kept.json()) as { id: string }).id}`))
  await expect(
    page.getByRole('region', { name: 'Not judged yet' }).locator('[data-not-judged="sound"]'),
  ).toContainText('nobody has described how it gets to air')
  const branch = page.getByRole('region', { name: 'Also goes to' }).getByRole('listitem')
  await expect(branch).toContainText('Recorder')
  await expect(branch).toHaveAttribute('data-state', 'snapped')
})

test('a change that was kept and not answered is asked again under its key', async ({ page, request }) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  const keys: string[] = []
  await page.route('**/edits', async (route) => {
    keys.push(route.request().headers()['idempotency-key'] ?? '')
    const answer = await route.fetch()
    // The first answer is lost on the way back.
    if (keys.length === 1)
      await route.fulfill({ status: 503, json: { detail: 'The database does not answer.' } })
    else await route.fulfill({ response: answer })
  })
  await page.getByRole('button', { name: 'Show these moves' }).click()
  await held(page).getByRole('button', { name: /Keep/ }).click()
  await expect(held(page)).toHaveCount(0, { timeout: 20_000 })
  expect(keys).toHaveLength(2)
  expect(keys[0]).toBe(keys[1])
  expect(keys[0]).not.toBe('')
  await expect(page.getByText('Somebody changed this rig')).toHaveCount(0)
})

test('the hops are one stop of the Tab key, and a hop has the focus again when its panel closes', async ({
  page,
  request,
}) => {
  await page.goto(url(`/rigs/${await loft(request)}`))
  await expect(page.locator('button.hop[tabindex="0"]')).toHaveCount(1)
  const one = hop(page, 'capture', 'Stick 1')
  for (const how of ['Escape', 'Close']) {
    await one.focus()
    await page.keyboard.press('Enter')
    const panel = page.getByTestId('panel')
    await expect(panel).toBeVisible()
    if (how === 'Escape') await page.keyboard.press('Escape')
    else await panel.getByRole('button', { name: 'Close' }).click()
    await expect(panel).toHaveCount(0)
    await expect(one, how).toBeFocused()
  }
})
