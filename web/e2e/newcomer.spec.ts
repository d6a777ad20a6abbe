import { expect, test } from '@playwright/test'
import { complaints, held, sentence, url } from './helpers'

test('a newcomer: three answers, then the deciding questions, until the rig is judged', async ({ page }) => {
  const wrong = complaints(page)
  const began = Date.now()
  await page.goto(url())
  await page.getByRole('link', { name: 'New rig' }).click()
  await page.getByRole('button', { name: 'one more: Cameras with HDMI' }).click()
  await page.getByRole('radio', { name: '1280 × 720' }).click()
  await page.getByRole('radio', { name: '30', exact: true }).click()
  await page.getByRole('radio', { name: 'A desktop' }).click()
  await page.getByLabel('Name of the rig').fill('First try')
  await page.getByRole('button', { name: 'Judge it' }).click()

  await expect(sentence(page)).toHaveAttribute('data-state', 'untested')
  await expect(sentence(page)).toContainText('open points')
  const question = page.getByTestId('question')
  await expect(question).toContainText('Which picture does')

  // Answer what is asked, choosing as someone with ordinary gear would, until nothing is open.
  const choose = [
    /1080p29.97/,
    /^High Speed HDMI$/,
    /Clean as it comes/,
    /YUY2 1920/,
    /NV12 1920/,
    /^5 Gb\/s$/,
    /^Yes$/,
    /It holds/,
    /It shares/,
    /^1080p30, 6000/,
    /It keeps sending/,
  ]
  const numbers: [RegExp, string][] = [
    [/upload/, '12'],
    [/watts/, '4'],
    [/mAh/, '2300'],
    [/HDMI version/, '340'],
    [/How long/, '2'],
    [/share of its rating/, '0.9'],
    [/controller/, '3900'],
  ]
  let answers = 0
  while ((await question.count()) > 0) {
    expect(++answers).toBeLessThan(30)
    const text = (await question.innerText()).replace(/\n/g, ' ')
    const field = question.getByRole('textbox')
    if ((await field.count()) > 0) {
      const number = numbers.find(([re]) => re.test(text))
      expect(number, text).toBeDefined()
      await field.fill(number![1])
      await question.getByRole('button', { name: 'Answer' }).click()
    } else {
      const buttons = question.getByRole('button')
      const labels = await buttons.allInnerTexts()
      const re = choose.find((re) => labels.some((l) => re.test(l)))
      expect(re, `${text}: ${labels.join(', ')}`).toBeDefined()
      await buttons.nth(labels.findIndex((l) => re!.test(l))).click()
    }
    await expect(held(page)).toBeVisible()
    await held(page).getByRole('button', { name: /Keep/ }).click()
    await expect(held(page)).toHaveCount(0)
  }
  expect(wrong).toEqual([])
  await expect(sentence(page)).not.toHaveAttribute('data-state', 'untested')
  // Whatever still snaps has a cure; take it.
  const cure = page.getByRole('button', { name: 'Show these moves' })
  if ((await cure.count()) > 0) {
    await cure.click()
    await held(page).getByRole('button', { name: /Keep/ }).click()
    await expect(held(page)).toHaveCount(0)
  }
  await expect(sentence(page)).toHaveAttribute('data-state', /slack|taut/)
  await expect(sentence(page)).toContainText('Holds')
  expect(Date.now() - began).toBeLessThan(5 * 60_000)
  expect(wrong).toEqual([])
})

test('a start without a source cannot be judged, and says so', async ({ page }) => {
  await page.goto(url('/new'))
  await page.getByRole('button', { name: 'one less: Cameras with HDMI' }).click()
  await expect(page.getByRole('button', { name: 'Judge it' })).toBeDisabled()
  await expect(page.getByText('Count at least one source.')).toBeVisible()
})
