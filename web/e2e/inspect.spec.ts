import { expect, test } from '@playwright/test'
import { execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { complaints, loft, url } from './helpers'

const folder = mkdtempSync(join(tmpdir(), 'clips-'))
test.afterAll(() => rmSync(folder, { recursive: true }))

/** A clip made by ffmpeg, as a file somebody chooses. */
function clip(name: string, args: string[]) {
  const file = join(folder, name)
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file])
  return { name, mimeType: 'video/mp4', buffer: readFileSync(file) }
}

const even = 'Marlpit Puppet Loft, even'

test('a test recording is inspected: what is wrong when, line by line of the sheet, and taken into the rig', async ({
  page,
}) => {
  const said = complaints(page)
  const id = await loft(page.request, even)
  await page.goto(url(`/rigs/${id}/inspect`))
  await expect(page.getByText('Nothing has been inspected yet.')).toBeVisible()
  await expect(page.getByLabel('A clip of')).toHaveValue('recording-0')
  const made = clip('Tuesday.mp4', [
    ...[
      '-f',
      'lavfi',
      '-i',
      "testsrc2=size=320x180:rate=30000/1001:duration=12,drawbox=t=fill:c=black:enable='between(t,4,6)'",
    ],
    ...[
      '-f',
      'lavfi',
      '-i',
      'sine=duration=12:sample_rate=44100',
      '-c:v',
      'libx264',
      '-g',
      '90',
      '-c:a',
      'aac',
      '-ac',
      '2',
    ],
  ])
  await page.getByLabel('Choose a clip').last().setInputFiles(made)
  const report = page.getByTestId('inspected')
  await expect(report).toContainText('black for 2 s')
  await expect(report.getByText('4.0 to 6.0 s')).toBeVisible()
  const held = page.getByTestId('held')
  await expect(held.getByRole('row', { name: /^Sample rate/ })).toContainText('44.1 kHz')
  await expect(held.getByRole('row', { name: /^Keyframe interval 2 s/ })).toContainText(
    'A keyframe comes every 3 s instead of every 2.',
  )
  await expect(held.getByRole('row', { name: /^Container/ })).toContainText('A crash would lose all of it.')
  await expect(page.getByRole('img', { name: /^0:12 of clip: \d findings with a time/ })).toBeVisible()
  const readOff = page.getByTestId('read-off')
  await readOff.getByRole('slider').fill('5')
  await expect(readOff).toContainText('At 0:05')
  await expect(readOff).toContainText('kb/s')
  await expect(readOff.getByRole('img')).toBeVisible()
  await page.getByTestId('takes').getByRole('button', { name: 'Into the rig' }).first().click()
  await expect(page.getByTestId('takes').getByText('taken')).toBeVisible()
  const rig = (await (await page.request.get(url(`/api/rigs/${id}`))).json()) as {
    rig: { show: { recordings: { kbps?: { from: string } }[] } }
  }
  expect(rig.rig.show.recordings[0]!.kbps?.from).toBe('measured')
  expect(said).toEqual([])
})

test('what is no recording is told in the queue; the next waits for its turn and is called off', async ({
  page,
}) => {
  await page.goto(url(`/rigs/${await loft(page.request, even)}/inspect`))
  const choose = page.getByLabel('Choose a clip').last()
  await choose.setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no film') })
  const clips = page.getByTestId('clips')
  await expect(clips).toContainText('notes.txt')
  await expect(clips).toContainText(/It is no recording/)
  await expect(page.getByText('/tmp')).toHaveCount(0)
  clip('short.mkv', [
    ...[
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=1280x720:rate=30:duration=8',
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
    ],
  ])
  for (const name of ['long.mkv', 'second.mkv'])
    clip(name, ['-stream_loop', '59', '-i', join(folder, 'short.mkv'), '-c', 'copy'])
  await choose.setInputFiles(join(folder, 'long.mkv'))
  await expect(clips).toContainText('long.mkv')
  await choose.setInputFiles(join(folder, 'second.mkv'))
  await expect(clips).toContainText('second.mkv')
  for (const left of [1, 0]) {
    await clips.getByRole('button', { name: 'Call it off' }).last().click()
    await expect(clips.getByRole('button', { name: 'Call it off' })).toHaveCount(left)
  }
  await expect(clips.getByText('called off')).toHaveCount(2)
})

test('claps are heard, frames are picked, and the delay goes to the rig in one action', async ({ page }) => {
  const id = await loft(page.request, even)
  await page.goto(url(`/rigs/${id}/inspect`))
  const claps =
    'if(lt(mod(t-2,1.5),0.05)*between(t,2,9),(2*random(0)-1)*exp(-60*mod(t-2,1.5)),0.001*(2*random(1)-1))'
  await page
    .getByLabel('Choose a clip')
    .last()
    .setInputFiles(
      clip('claps.mkv', [
        ...['-f', 'lavfi', '-i', 'testsrc2=size=192x108:rate=30000/1001:duration=10'],
        ...['-f', 'lavfi', '-i', `aevalsrc='${claps}':s=48000:d=10`, '-c:v', 'libx264', '-c:a', 'pcm_s16le'],
      ]),
    )
  const times = page.getByTestId('claps')
  await times.getByText('5 claps are heard: pick the frames').click()
  for (let k = 0; k < 3; k++) await times.getByRole('group').nth(k).getByRole('button').nth(2).click()
  await expect(times.getByRole('status')).toContainText(
    /The sound comes \d+(\.\d+)? ms after the picture, in the middle of three claps/,
  )
  await times.getByRole('button', { name: 'Into the rig' }).first().click()
  await expect(times.getByText('taken')).toBeVisible()
  const rig = (await (await page.request.get(url(`/api/rigs/${id}`))).json()) as {
    rig: { sound: { paths: { offsetMs?: { from: string }; delayMs?: number }[] } }
  }
  const path = rig.rig.sound.paths.find((p) => p.offsetMs?.from === 'measured')
  expect(path?.delayMs).toBeGreaterThanOrEqual(0)
})

test('a rehearsal: address and key, the sheet line by line while it comes, a bad far end, and a report', async ({
  page,
}) => {
  const said = complaints(page)
  const id = await loft(page.request, even)
  await page.goto(url(`/rigs/${id}/rehearse`))
  await page.getByRole('button', { name: 'Open a destination' }).click()
  const one = page.getByTestId('rehearsal')
  await expect(one).toContainText('Nobody sends yet')
  await expect(one.getByRole('button', { name: 'Do it now' })).toBeDisabled()
  const [server, key] = await one.locator('code').allTextContents()
  expect(server).toMatch(/^rtmp:\/\/127\.0\.0\.1:\d+\/rehearse$/)
  const sender = spawn('ffmpeg', [
    ...['-v', 'error', '-re', '-f', 'lavfi', '-i', 'testsrc2=size=640x360:rate=30000/1001'],
    ...['-f', 'lavfi', '-i', 'sine=sample_rate=48000', '-c:v', 'libx264', '-preset', 'ultrafast', '-g', '60'],
    ...['-c:a', 'aac', '-ac', '2', '-t', '120', '-f', 'flv', `${server}/${key}`],
  ])
  try {
    await expect(one).toContainText('It comes as 640×360 instead of 1280×720')
    await expect(one.getByRole('row', { name: /^Output size/ })).toContainText('kinked')
    await expect(one.getByRole('img', { name: 'The last keyframe that was looked at' })).toBeVisible()
    const heard = one.getByTestId('heard')
    await expect(heard).toContainText(/−\d+\.\d LUFS, true peak/)
    await expect(heard).toContainText('kinked Loudness') // a tone of an eighth
    await heard.locator('summary').click()
    await expect(heard).toContainText('There is sound.')
    await one.getByLabel('A bad far end').selectOption('closes')
    await one.getByRole('button', { name: 'Do it now' }).click()
    await expect(page.getByTestId('dips')).toContainText('Closed the connection')
    await one.getByRole('button', { name: 'End it, and keep the report' }).click()
    await expect(page.getByText('Its report is kept with the rig as it was.')).toBeVisible()
    await expect(one.locator('code')).toHaveCount(0)
    await page.getByTestId('reports').locator('summary').first().click()
    await expect(page.getByTestId('reports')).toContainText('It comes as 640×360')
  } finally {
    sender.kill('SIGKILL')
  }
  expect(said).toEqual([])
})

test('the slate says its caution first, flashes at its beat, and stops with Escape', async ({ page }) => {
  const said = complaints(page)
  await page.goto(url('/slate'))
  await expect(page.getByTestId('caution')).toContainText('seizures')
  await page.getByRole('button', { name: 'Begin to flash and beep' }).click()
  const slate = page.getByTestId('slate')
  const lit = await slate.evaluate(
    (e) =>
      new Promise<number[]>((done) => {
        const at: number[] = []
        new MutationObserver(() => {
          if (e.getAttribute('data-lit') === 'true') at.push(performance.now())
          if (at.length === 4) done(at)
        }).observe(e, { attributes: true })
      }),
  )
  const beats = lit.slice(1).map((t, i) => (t - lit[i]!) / 1037)
  for (const b of beats) expect(Math.abs(b - Math.round(b))).toBeLessThan(0.15) // a busy machine may leave one out
  await page.keyboard.press('Escape')
  await expect(slate).toHaveCount(0)
  expect(said).toEqual([])
})
