import { expect, test } from '@playwright/test'
import { complaints, loft, sentence, url } from './helpers'

test('a newcomer: three cameras and a phone at 50, then few taps until nothing is open that matters', async ({
  page,
}) => {
  const wrong = complaints(page)
  await page.goto(url())
  await page.locator('a[href="/new"]').first().click() // by where it leads: what others said in lines is a "New rig" too
  await page.getByRole('button', { name: 'one more: Cameras with HDMI' }).click()
  await page.getByRole('button', { name: 'one more: Cameras with HDMI' }).click()
  await page.getByRole('button', { name: 'one more: Phones by cable' }).click()
  await page.getByRole('radio', { name: '1920 × 1080' }).click()
  await page.getByRole('radio', { name: '50', exact: true }).click()
  await page.getByRole('radio', { name: 'A laptop' }).click()
  await page.getByLabel('Name of the rig').fill('First try')
  await page.getByRole('button', { name: 'Judge it' }).click()

  // Nothing is assumed and then condemned: what nobody has chosen is proposed, and what is not known is asked.
  await expect(sentence(page)).toHaveAttribute('data-state', 'untested')
  await expect(sentence(page)).toContainText('Holds as proposed if')
  await expect(page.getByTestId('proposed')).toContainText('to 1080p50')
  expect(await page.locator('[data-finding]').count()).toBeLessThanOrEqual(12)
  const question = page.getByTestId('question')

  // Answer what is asked, choosing as someone with ordinary gear would: one tap keeps it, for all that are alike.
  const choose = [
    /^High Speed HDMI$/,
    /^5 Gb\/s$/,
    /^USB 5 Gb\/s$/,
    /^It shares/,
    /^1080p60, /,
    /^50 Mb\/s$/,
    /^Yes$/,
    /^Good laptop$/,
  ]
  let taps = 0
  while ((await sentence(page).getAttribute('data-state')) === 'untested') {
    expect(++taps, 'taps until nothing is open that matters').toBeLessThanOrEqual(7)
    const path = await question.getAttribute('data-path')
    const labels = await question.getByRole('button').allInnerTexts()
    const re = choose.find((re) => labels.some((l) => re.test(l)))
    expect(re, `${await question.innerText()}: ${labels.join(', ')}`).toBeDefined()
    await question.getByRole('button', { name: re! }).first().click()
    await expect(page.locator(`[data-testid=question][data-path="${path}"]`)).toHaveCount(0)
  }
  await expect(sentence(page)).toHaveAttribute('data-state', /slack|taut|kinked/)
  await expect(sentence(page)).toContainText('Holds')
  await expect(sentence(page)).toContainText('flaw') // the phone sends 30 only

  // All proposals are one change, and one undo, which says what it undoes.
  await page.getByRole('button', { name: 'Take all proposals' }).click()
  await expect(page.getByTestId('proposed')).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo: Take all proposals' }).click()
  await expect(page.getByTestId('proposed')).toBeVisible()
  expect(wrong).toEqual([])
})

test('an answer that cannot be says what is allowed, and stays typed', async ({ page, request }) => {
  const made = await request.post(url('/api/start'), {
    data: {
      sources: [{ kind: 'camera', count: 1 }],
      out: { height: 1080, fps: 30, minutes: 60 },
      computer: 'laptop',
    },
  })
  await page.goto(url(`/rigs/${((await made.json()) as { id: string }).id}`))
  const question = page.getByTestId('question')
  await expect(question).toBeVisible()
  while ((await question.getByRole('textbox').count()) === 0)
    await question.getByRole('button', { name: 'Later' }).click()
  await question.getByRole('textbox').fill('1e9')
  await question.getByRole('button', { name: 'Answer' }).click()
  await expect(page.getByRole('alert')).toContainText('0 to 100000')
  await expect(question.getByRole('textbox')).toHaveValue('1e9')
  await question.getByRole('textbox').fill('50')
  await question.getByRole('button', { name: 'Answer' }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
})

test('one camera on this very computer: its stick and sockets are read, it is measured, and two facts decide at most', async ({
  page,
  request,
}) => {
  test.setTimeout(180_000) // the computer is measured meanwhile
  const wrong = complaints(page)
  await page.goto(url('/new'))
  await page.getByRole('radio', { name: 'This very computer' }).click()
  await expect(page.getByText('what its processor can do is measured meanwhile')).toBeVisible()
  await page.getByLabel('What kind of destination').selectOption('Open to 1080 lines')
  await page.getByRole('button', { name: 'Judge it' }).click()
  await expect(sentence(page)).toContainText(/if (one|two) facts? turns? out well/)
  await expect(page.locator('[data-beside="this-computer"]')).toBeVisible()
  await expect(page.locator('button.hop', { hasText: 'Full-HD stick' }).first()).toBeVisible()
  const measuring = page.getByTestId('measuring')
  await expect(measuring).toContainText('This computer is being measured for this rig')
  // A shorter measurement in place of the whole one.
  await request.delete(url('/api/measure'))
  await expect(measuring).toContainText('broken off')
  const short = { width: 320, height: 180, rate: '30', seconds: 0.2 }
  expect((await request.post(url('/api/measure'), { data: short })).ok()).toBe(true)
  await page.reload()
  await measuring.getByRole('button', { name: 'Take it into this rig' }).click({ timeout: 120_000 })
  await expect(measuring).toHaveCount(0)
  await expect(
    page.getByRole('button', { name: 'Undo: This computer: what it computes, measured' }),
  ).toBeVisible()
  expect(wrong).toEqual([])
})

test('a start without a source cannot be judged, and says so', async ({ page }) => {
  await page.goto(url('/new'))
  await page.getByRole('button', { name: 'one less: Cameras with HDMI' }).click()
  await expect(page.getByRole('button', { name: 'Judge it' })).toBeDisabled()
  await expect(page.getByText('Count at least one source.')).toBeVisible()
})

test('on a phone the sentence takes two lines at most', async ({ page, request }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  for (const name of ['Marlpit Puppet Loft', 'Village hall on tour', 'Desk with a four-input card']) {
    await page.goto(url(`/rigs/${await loft(request, name)}`))
    const said = page.getByTestId('said')
    await expect(said).not.toBeEmpty()
    const lines = await said.evaluate(
      (el) => el.getBoundingClientRect().height / parseFloat(getComputedStyle(el).lineHeight),
    )
    expect(Math.round(lines), (await said.textContent())!).toBeLessThanOrEqual(2)
  }
})

test('what nobody can settle yet names what makes it less, and that it may not be enough', async ({
  page,
  request,
}) => {
  const answer = await request.post(url('/api/start'), {
    data: {
      sources: [{ kind: 'camera', count: 4 }],
      out: { height: 1080, fps: 60, minutes: 60 },
      computer: 'laptop',
    },
  })
  const { id } = (await answer.json()) as { id: string }
  await page.goto(url(`/rigs/${id}`))
  const processor = page.locator('[data-finding^="processor"]')
  await expect(processor).toContainText('it may not be enough')
  await expect(processor).toContainText(/\d+ to \d+ % in place of \d+ to \d+ %/)
  await processor.getByRole('button', { name: 'Try' }).click()
  await expect(page.getByTestId('held')).toBeVisible()
})
