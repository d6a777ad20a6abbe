import { expect, test } from '@playwright/test'
import { databaseProcesses, held, hop, loft, sentence, url } from './helpers'

test('the database goes away: the page says so, keeps what was done, and recovers by itself', async ({
  page,
  request,
}) => {
  const id = await loft(request)
  await page.goto(url(`/rigs/${id}`))
  await hop(page, 'camera', 'Face camera').click()
  const stopped = databaseProcesses()
  try {
    for (const pid of stopped) process.kill(pid, 'SIGSTOP')
    // Judging needs no database: the change can still be seen.
    await page
      .getByTestId('panel')
      .getByText('Run Face camera from the mains')
      .locator('..')
      .getByRole('button', { name: 'Try' })
      .click()
    await expect(sentence(page)).toContainText('four moves')
    await held(page).getByRole('button', { name: /Keep/ }).click()
    await expect(page.getByTestId('away')).toContainText('The database does not answer')
    await expect(held(page)).toContainText('Not kept yet')
    await expect(held(page)).toContainText('Run Face camera from the mains')
  } finally {
    for (const pid of stopped) process.kill(pid, 'SIGCONT')
  }
  await expect(held(page)).toHaveCount(0, { timeout: 30_000 })
  await expect(page.getByTestId('away')).toHaveCount(0, { timeout: 30_000 })
  await page.reload()
  await expect(page.locator('[data-finding="run-time:cam-face"]')).toHaveCount(0)
})

test('the database is killed: it is started again, and nothing is lost', async ({ page, request }) => {
  const id = await loft(request)
  const [head] = databaseProcesses()
  process.kill(head!, 'SIGKILL')
  await expect.poll(async () => (await request.get(url('/healthz'))).status(), { timeout: 45_000 }).toBe(200)
  await page.goto(url(`/rigs/${id}`))
  await expect(sentence(page)).toContainText('five moves', { timeout: 30_000 })
})
