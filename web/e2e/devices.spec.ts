import { expect, type Page, test } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { complaints, loft, url } from './helpers'

const folder = mkdtempSync(join(tmpdir(), 'devices-'))
const film = join(folder, 'Bench camera.mjpeg')
const sound = join(folder, 'words.wav')
const make = (...args: string[]) =>
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', ...args])
make(
  'testsrc2=size=1280x720:rate=30:duration=2',
  '-vf',
  'pad=1280:800:0:40:black',
  '-c:v',
  'mjpeg',
  '-q:v',
  '4',
  film,
)
make(
  "anoisesrc=color=pink:amplitude=0.3:duration=6:seed=3,volume='if(lt(mod(t,3),1.3),1,0.02)':eval=frame,aformat=channel_layouts=stereo,pan=stereo|c0=c0|c1=0.001*c0",
  sound,
)

/** A clip and a sound are played into the browser as its camera and its microphone. */
test.use({
  launchOptions: {
    executablePath: '/usr/bin/chromium',
    args: [
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      '--disable-gpu',
      '--no-first-run',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${film}`,
      `--use-file-for-fake-audio-capture=${sound}`,
    ],
  },
})

const row = (page: Page, name: string | RegExp) => page.getByTestId('device').filter({ hasText: name })
const find = (page: Page) => page.getByRole('button', { name: 'Find cameras and microphones' }).click()

async function opened(page: Page) {
  await page.context().grantPermissions(['camera', 'microphone'])
  const id = await loft(page.request)
  await page.goto(url(`/rigs/${id}/look`))
  await find(page)
  return id
}

test('a camera that is open is held against the plan; the sign and the switch are there while it is; which it is survives a reload', async ({
  page,
}) => {
  const wrong = complaints(page)
  await opened(page)
  const camera = row(page, 'Bench camera.mjpeg')
  await camera.getByLabel(/^What .* is$/).selectOption({ label: 'Stage camera' })
  await camera.getByRole('button', { name: 'Look', exact: true }).click()
  await expect(page.getByTestId('open-devices')).toContainText('1 device is open')
  await expect(camera.locator('video')).toBeVisible()
  await expect(camera.getByTestId('figures')).toContainText(/\b[4-9] s · [23]\d(\.\d)? frames\/s/)
  await camera.getByRole('button', { name: 'Enough' }).click()
  const looked = page.getByTestId('looked')
  await expect(looked).toContainText('Stage camera')
  await expect(looked.getByRole('row', { name: /^Size/ })).toContainText('1280×800')
  await expect(looked).toContainText('A black border: the picture is 1280 × 720 at 0, 40')
  await expect(looked.getByText('First picture after')).toBeVisible()
  await expect(page.getByTestId('open-devices')).toHaveCount(0)
  // One switch lets go of it, and nothing is looked at then.
  await camera.getByRole('button', { name: 'Look', exact: true }).click()
  await expect(camera.locator('video')).toBeVisible()
  const live = await camera
    .locator('video')
    .evaluateHandle((v: HTMLVideoElement) => v.srcObject as MediaStream)
  await page.getByRole('button', { name: 'Close all' }).click()
  await expect(page.getByTestId('open-devices')).toHaveCount(0)
  await expect.poll(() => live.evaluate((s) => s.getTracks()[0]!.readyState)).toBe('ended')
  await page.reload()
  await find(page)
  await expect(camera.getByLabel(/^What .* is$/).locator('option:checked')).toHaveText('Stage camera')
  await expect(camera).toContainText('As it was last time.')
  expect(wrong).toEqual([])
})

test('everything is looked at in turn; what was heard goes into the rig; leaving the page lets go of the devices', async ({
  page,
}) => {
  test.slow()
  const id = await opened(page)
  const lapel = row(page, 'Fake Audio Input 1')
  await lapel.getByLabel(/^What .* is$/).selectOption({ label: 'the sound of Ida by Lapel microphone' })
  await row(page, 'mjpeg')
    .getByLabel(/^What .* is$/)
    .selectOption({ label: 'Bench camera' })
  await page.getByRole('button', { name: 'Look at everything' }).click()
  await expect(page.getByTestId('open-devices')).toContainText('1 of 2')
  await expect(page.getByTestId('open-devices')).toContainText('2 of 2', { timeout: 30_000 })
  await expect(lapel.getByRole('meter')).toBeVisible()
  const heard = page.getByTestId('looked').filter({ hasText: 'the sound of Ida by Lapel microphone' })
  await expect(heard).toContainText('On the left only', { timeout: 30_000 })
  await heard
    .getByTestId('takes')
    .getByRole('listitem')
    .filter({ hasText: 'Heard on one side' })
    .getByRole('button')
    .click()
  await expect(heard.getByText('taken')).toBeVisible()
  const board = (await (await page.request.get(url(`/api/rigs/${id}`))).json()) as {
    rig: { sound: { paths: { middle: string }[] } }
  }
  expect(board.rig.sound.paths[0]!.middle).toBe('no')
  await row(page, 'mjpeg').getByRole('button', { name: 'Look', exact: true }).click()
  const live = await page.locator('video').evaluateHandle((v: HTMLVideoElement) => v.srcObject as MediaStream)
  await page.getByRole('link', { name: 'Sound', exact: true }).click()
  await expect.poll(() => live.evaluate((s) => s.getTracks()[0]!.readyState)).toBe('ended')
})

test('leave that is refused is said with how to give it; a server that goes is said while a device is open', async ({
  page,
}) => {
  const id = await loft(page.request)
  await page.goto(url(`/rigs/${id}/look`))
  await find(page)
  await expect(page.getByRole('alert').first()).toContainText('leave was refused. Give it in the browser')
  await page.context().grantPermissions(['camera', 'microphone'])
  await page.getByRole('button', { name: 'Find them anew' }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
  const camera = row(page, 'mjpeg')
  await camera.getByRole('button', { name: 'Look', exact: true }).click()
  await expect(camera.getByTestId('figures')).toContainText('frames/s')
  await page.context().setOffline(true)
  await expect(camera.getByTestId('figures')).toContainText('The server does not answer')
  await page.context().setOffline(false)
  await expect(camera.getByTestId('figures')).not.toContainText('The server does not answer')
  await page.getByRole('button', { name: 'Close all' }).click()
})

test('only Look and a night may open devices: a page that is led there loads itself anew, and goes on', async ({
  page,
}) => {
  await page.context().grantPermissions(['camera', 'microphone'])
  const id = await loft(page.request)
  await page.goto(url(`/rigs/${id}`))
  expect(
    await page.evaluate(() =>
      navigator.mediaDevices.getUserMedia({ video: true }).then(
        () => 'open',
        (e: Error) => e.name,
      ),
    ),
  ).toBe('NotAllowedError')
  await page.getByRole('link', { name: 'Look', exact: true }).click()
  await find(page)
  await expect(row(page, 'mjpeg')).toBeVisible()
  await expect(page.getByRole('alert')).toHaveCount(0)
})

/** Two cameras of one name, drawn in the page: one stands still, the other changes while somebody waves. */
async function twins(page: Page) {
  await page.addInitScript(() => {
    const all = ['left', 'right'].map((id) => ({
      deviceId: id,
      groupId: id,
      kind: 'videoinput' as const,
      label: 'USB Video',
      toJSON: () => ({}),
    }))
    navigator.mediaDevices.enumerateDevices = () => Promise.resolve(all)
    navigator.mediaDevices.getUserMedia = (c) => {
      const of = (c?.video as { deviceId?: { exact: string } } | undefined)?.deviceId?.exact
      const canvas = document.createElement('canvas')
      canvas.width = 320
      canvas.height = 180
      const on = canvas.getContext('2d')!
      let n = 0
      setInterval(() => {
        on.fillStyle = `hsl(0 0% ${of === 'right' && n++ % 2 ? 80 : 40}%)`
        on.fillRect(0, 0, 320, 180)
      }, 33)
      return Promise.resolve(canvas.captureStream(30))
    }
  })
}

test('of two devices of one name the one somebody waves at is pointed out, and named', async ({ page }) => {
  const wrong = complaints(page)
  await twins(page)
  await page.goto(url(`/rigs/${await loft(page.request)}/look`))
  await find(page)
  await expect(page.getByText('2 devices have the same name')).toBeVisible()
  await expect(row(page, 'cover one lens')).toHaveCount(2)
  await page.getByRole('button', { name: 'Watch which changes' }).click()
  await expect(page.getByTestId('device').nth(1)).toContainText('This one changes')
  await expect(page.getByTestId('device').nth(0)).not.toContainText('This one changes')
  await page
    .getByTestId('device')
    .nth(1)
    .getByRole('combobox')
    .first()
    .selectOption({ label: 'Bench camera' })
  await page.getByRole('button', { name: 'Close all' }).click()
  await expect(page.getByTestId('open-devices')).toHaveCount(0)
  expect(wrong).toEqual([])
})

test('a device that opens only after the page was left is let go of at once', async ({ page }) => {
  await page.addInitScript(() => {
    const { getUserMedia } = navigator.mediaDevices
    navigator.mediaDevices.getUserMedia = async (c) => {
      const s = await getUserMedia.call(navigator.mediaDevices, c)
      const asks = c?.video as { width?: unknown } | undefined
      if (asks?.width) await new Promise<void>((go) => Object.assign(window, { go, late: s }))
      return s
    }
  })
  await opened(page)
  await row(page, 'mjpeg').getByRole('button', { name: 'Look', exact: true }).click()
  await expect.poll(() => page.evaluate(() => 'go' in window)).toBe(true)
  await page.getByRole('link', { name: 'Sound', exact: true }).click()
  await expect(page.getByTestId('devices')).toHaveCount(0)
  const state = () =>
    page.evaluate(() => (window as unknown as { late: MediaStream }).late.getTracks()[0]!.readyState)
  expect(await state()).toBe('live')
  await page.evaluate(() => (window as unknown as { go: () => void }).go())
  await expect.poll(state).toBe('ended')
})

test('before a show everything is looked at from its page: what is not as planned is marked as failed, and noted', async ({
  page,
}) => {
  test.slow()
  const wrong = complaints(page)
  const id = await opened(page)
  await row(page, 'mjpeg')
    .getByLabel(/^What .* is$/)
    .selectOption({ label: 'Bench camera' })
  await row(page, 'Fake Audio Input 1')
    .getByLabel(/^What .* is$/)
    .selectOption({ label: 'the sound of Ida by Lapel microphone' })
  const night = (await (
    await page.request.post(url(`/api/rigs/${id}/nights`), {
      data: { id: crypto.randomUUID(), airAt: new Date(Date.now() + 3_600_000).toISOString(), people: 1 },
    })
  ).json()) as { id: string; sheet: { steps: { id: string; do: string; looks?: string[] }[] } }
  expect(night.sheet.steps.filter((s) => s.looks?.length).length).toBeGreaterThan(3)
  await page.goto(url(`/nights/${night.id}`))
  await page.getByText('Look at everything: cameras').click()
  await find(page)
  await expect(row(page, 'mjpeg')).toContainText('As it was last time.')
  await page.getByRole('button', { name: 'Look at everything', exact: true }).click()
  const table = page.getByTestId('preflight')
  await expect(table.getByRole('row', { name: /^Bench camera.*1280×720 at/ })).toContainText(
    'A black border',
    {
      timeout: 60_000,
    },
  )
  await expect(table.getByRole('row', { name: /^The sound of Ida/ })).toContainText('On the left only')
  await table.getByRole('button', { name: 'Mark 2 as failed' }).click()
  await expect(page.getByTestId('notes')).toContainText('Looked at everything: Two devices are not as')
  const camera = night.sheet.steps.find((s) => s.looks?.includes('cam-bench.hdmi'))!
  await expect(page.locator(`[data-step="${camera.id}"]`).getByRole('checkbox')).toHaveText('×')
  expect(wrong).toEqual([])
  // From the rig's own page the same is offered for the show that is to come.
  await page.goto(url(`/rigs/${id}/look`))
  await find(page)
  await page.getByRole('button', { name: 'Look at everything', exact: true }).click()
  await expect(page.getByRole('button', { name: /^Mark 2 as failed of / })).toBeVisible({ timeout: 60_000 })
})

/** Two microphones that hear one clapping, the second 40 ms later; two cameras that see one card, the second darker and warmer. */
async function pairs(page: Page) {
  await page.addInitScript(() => {
    const all = (['audioinput', 'audioinput', 'videoinput', 'videoinput'] as const).map((kind, k) => ({
      deviceId: `${kind} ${k}`,
      groupId: String(k),
      kind,
      label: ['Near', 'Far', 'Overhead', 'Front'][k]!,
      toJSON: () => ({}),
    }))
    let room: { on: AudioContext; clap: AudioNode } | undefined
    const clapping = () => {
      if (room) return room
      const on = new AudioContext({ sampleRate: 48_000 })
      const buffer = on.createBuffer(1, 16 * 48_000, 48_000)
      const data = buffer.getChannelData(0)
      let seed = 1
      for (let clap = 0; clap < 16; clap++)
        for (let i = 0; i < 6000; i++) {
          seed = (seed * 16807) % 2147483647 // no two claps are alike
          data[clap * 48_000 + i + 24_000] = 1.2 * (seed / 2147483647 - 0.5) * Math.exp(-i / 1200)
        }
      const clap = new AudioBufferSourceNode(on, { buffer, loop: true })
      clap.start()
      return (room = { on, clap })
    }
    navigator.mediaDevices.enumerateDevices = () => Promise.resolve(all)
    navigator.mediaDevices.getUserMedia = (c) => {
      if (c?.audio) {
        const id = (c.audio as { deviceId?: { exact: string } }).deviceId?.exact
        const { on, clap } = clapping()
        const to = on.createMediaStreamDestination()
        clap.connect(new DelayNode(on, { delayTime: id?.endsWith('1') ? 0.04 : 0 })).connect(to)
        return Promise.resolve(to.stream)
      }
      const id = (c?.video as { deviceId?: { exact: string } } | undefined)?.deviceId?.exact
      const canvas = document.createElement('canvas')
      canvas.width = 640
      canvas.height = 360
      const draw = canvas.getContext('2d')!
      let n = 0
      setInterval(() => {
        draw.fillStyle = `rgb(30 ${20 + (n++ % 9)} 30)`
        draw.fillRect(0, 0, 640, 360)
        draw.fillStyle = id?.endsWith('3') ? 'rgb(110 100 80)' : 'rgb(150 150 150)'
        draw.fillRect(200, 100, 240, 160)
      }, 33)
      return Promise.resolve(canvas.captureStream(30))
    }
  })
}

test('of two microphones the one that hears a clap first is told; cameras that see one card are held against each other', async ({
  page,
}) => {
  const wrong = complaints(page)
  await pairs(page)
  await page.goto(url(`/rigs/${await loft(page.request)}/look`))
  await find(page)
  await page.getByRole('button', { name: 'Listen for claps' }).click()
  await expect(page.getByTestId('open-devices')).toContainText('Clap five times')
  const claps = page.getByTestId('claps')
  await expect(claps).toContainText(
    /First Near, second Far: The second hears it (39|40|41)(\.\d+)? ms later/,
    {
      timeout: 40_000,
    },
  )
  await expect(page.getByTestId('open-devices')).toHaveCount(0)
  for (const [name, is] of [
    ['Overhead', 'Bench camera'],
    ['Front', 'Face camera'],
  ] as const)
    await row(page, name)
      .getByLabel(/^What .* is$/)
      .selectOption({ label: is })
  await page.getByRole('button', { name: 'Hold the cameras against each other' }).click()
  const match = page.getByTestId('match')
  await expect(match.locator('video')).toHaveCount(2)
  await match.getByLabel(/^Mark on the picture of Front/).press('ArrowLeft')
  await expect
    .poll(() =>
      match
        .locator('video')
        .first()
        .evaluate((v: HTMLVideoElement) => v.videoWidth),
    )
    .toBe(640)
  await page.getByRole('button', { name: 'Compare the marks' }).click()
  await expect(match).toContainText(
    /Front differs 1\.\d stops darker than Overhead; colours apart by ΔE \d+(\.\d)?, warmer: seen on a cut/,
  )
  // Said on the picture that it stands on its head: it is so in what the look comes to.
  await page.getByRole('button', { name: 'Close all' }).click()
  await row(page, 'Overhead').getByRole('button', { name: 'Look', exact: true }).click()
  await page.getByLabel('How the picture of Overhead stands').selectOption('on its head')
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save a small picture' }).click()
  expect((await saved).suggestedFilename()).toBe('Overhead.jpg')
  await row(page, 'Overhead').getByRole('button', { name: 'Enough' }).click()
  await expect(page.getByTestId('looked')).toContainText('It stands on its head: turned by 180°.')
  expect(wrong).toEqual([])
})
