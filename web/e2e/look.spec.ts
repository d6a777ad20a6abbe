import { expect, test } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { loft, url } from './helpers'

const folder = mkdtempSync(join(tmpdir(), 'clips-'))
test.afterAll(() => rmSync(folder, { recursive: true }))

/** A clip made by ffmpeg, as a file somebody chooses. */
function clip(name: string, video: string, sound: string) {
  const file = join(folder, name)
  const inputs = ['-f', 'lavfi', '-i', video, '-f', 'lavfi', '-i', sound]
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...inputs,
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-shortest',
    file,
  ])
  return { name, mimeType: 'video/mp4', buffer: readFileSync(file) }
}

async function open(page: import('@playwright/test').Page) {
  await page.goto(url(`/rigs/${await loft(page.request)}/look`))
}

test('a clip is held against the plan: what is not as planned, what nobody wants and what to do, what it cannot tell', async ({
  page,
}) => {
  await open(page)
  await page
    .getByLabel('Choose a clip')
    .last()
    .setInputFiles(
      clip(
        'rehearsal.mp4',
        'testsrc2=size=1280x720:rate=25:duration=4,fps=30000/1001,pad=1280:800:0:40:black',
        'sine=duration=4,pan=stereo|c0=c0|c1=0*c0',
      ),
    )
  const looked = page.getByTestId('looked')
  await expect(looked).toContainText('rehearsal.mp4')
  await expect(looked.getByRole('row', { name: /^Size/ })).toContainText('1920×10801280×800no')
  await expect(looked.getByRole('row', { name: /^Frames a second/ })).toContainText('29.9729.97yes')
  await expect(looked.getByRole('row', { name: /^New ones among them/ })).toContainText('25')
  await expect(looked).toContainText('On the left only')
  await expect(looked).toContainText('Set the input to the middle, or to mono.')
  await expect(looked).toContainText('A black border: the picture is 1280 × 720 at 0, 40')
  await expect(looked.getByText('What this cannot tell')).toBeVisible()
})

test('what is no recording is said to be none; a dropped clip is looked at; the looking can be called off', async ({
  page,
}) => {
  await open(page)
  const choose = page.getByLabel('Choose a clip').last()
  await choose.setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no film') })
  await expect(page.getByText('notes.txt could not be looked at:')).toBeVisible()
  await expect(page.getByText(/^It is no recording: /)).toBeVisible()
  await expect(page.getByText('/tmp')).toHaveCount(0)
  const made = clip('dropped.mp4', 'testsrc2=size=320x180:rate=30:duration=2', 'sine=duration=2')
  const data = await page.evaluateHandle((base64) => {
    const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))
    const to = new DataTransfer()
    to.items.add(new File([bytes], 'dropped.mp4'))
    return to
  }, made.buffer.toString('base64'))
  await page.getByTestId('drop').dispatchEvent('drop', { dataTransfer: data })
  await expect(page.getByTestId('looked')).toContainText('dropped.mp4')
  await page.route('**/look?of=*', () => undefined) // it never answers
  await choose.setInputFiles(made)
  await page.getByRole('button', { name: 'Call it off' }).click()
  await expect(page.getByRole('button', { name: 'Call it off' })).toHaveCount(0)
})

test('what a clip tells of a way of sound is taken into the rig, and is what is judged then', async ({
  page,
  request,
}) => {
  const copy = await loft(request)
  const unheard = await request.post(url(`/api/rigs/${copy}/edits`), {
    data: {
      from: 1,
      edits: [{ do: 'word', path: 'sound/paths/0/hum', word: 'unknown' }],
      what: 'nobody listened',
    },
  })
  expect(unheard.ok(), await unheard.text()).toBe(true)
  // The board asks, and says that a recording answers it.
  await page.goto(url(`/rigs/${copy}`))
  const question = page.getByTestId('question')
  while ((await question.getAttribute('data-path')) !== 'sound/paths/0/hum')
    await question.getByRole('button', { name: 'Later' }).click()
  await question.getByRole('link', { name: /test recording/ }).click()
  await expect(page.getByLabel('A clip of').locator('option:checked')).toHaveText(
    'the sound of Ida by Lapel microphone',
  )
  const speech =
    "anoisesrc=color=pink:amplitude=0.3:duration=8:seed=3,volume='if(lt(mod(t,3),1.3),1,0.02)':eval=frame,aformat=channel_layouts=stereo"
  await page
    .getByLabel('Choose a clip')
    .last()
    .setInputFiles(
      clip('words.mp4', 'testsrc2=size=320x180:rate=30:duration=8', `${speech},pan=stereo|c0=c0|c1=0.001*c0`),
    )
  const takes = page.getByTestId('takes')
  await expect(takes).toContainText('Heard on one side')
  await expect(takes).toContainText('It does not hum')
  await takes.getByRole('button', { name: 'All of it into the rig' }).click()
  await expect(takes.getByText('taken')).toHaveCount(3)
  const now = (await (await request.get(url(`/api/rigs/${copy}`))).json()) as {
    rig: { sound: { paths: { middle?: string; hum?: string; headroomDb?: { from: string } }[] } }
    verdict: { limits: { id: string; state: string }[] }
  }
  expect(now.rig.sound.paths[0]).toMatchObject({ middle: 'no', hum: 'no', headroomDb: { from: 'measured' } })
  expect(now.verdict.limits.find((l) => l.id.startsWith('one-sided:'))?.state).toBe('kinked')
})
