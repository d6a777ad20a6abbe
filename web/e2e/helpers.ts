import { type APIRequestContext, expect, type Page } from '@playwright/test'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

/** What the setup says of the server of this worker. */
const own = (what: string) => process.env[`${what}_${process.env.TEST_PARALLEL_INDEX}`]!

export const url = (path = '/') => own('EVENTETHER_URL') + path

/** Where the server of this worker keeps its database. */
export const dataFolder = () => own('EVENTETHER_DATA')

type Listed = { id: string; name: string }

/** A fresh copy of the demo loft, so that tests do not meet. */
export async function loft(request: APIRequestContext, name = 'Marlpit Puppet Loft'): Promise<string> {
  const rigs = (await (await request.get(url('/api/rigs'))).json()) as Listed[]
  const id = rigs.find((r) => r.name === name)!.id
  const copy = await request.post(url(`/api/rigs/${id}/copy`))
  expect(copy.ok()).toBe(true)
  return ((await copy.json()) as Listed).id
}

export const hop = (page: Page, stage: string, label: string) =>
  page.locator(`button.hop[data-stage="${stage}"]`).filter({ hasText: label }).first()

export const sentence = (page: Page) => page.getByTestId('sentence')
export const held = (page: Page) => page.getByTestId('held')

/** Goes to another screen without loading the page anew. */
export async function go(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState(null, '', to)
    window.dispatchEvent(new PopStateEvent('popstate'))
  }, path)
}

/** What the page says on its console that it should not. */
export function complaints(page: Page): string[] {
  const out: string[] = []
  page.on('pageerror', (e) => out.push(e.message))
  page.on('console', (m) => {
    if (m.type() === 'error' && !/Failed to load resource/.test(m.text())) out.push(m.text())
  })
  page.on('request', (r) => {
    if (!r.url().startsWith(url('')) && !r.url().startsWith('data:')) out.push(`asked ${r.url()}`)
  })
  return out
}

/** The processes of our own database: its head and everything the head started. */
export function databaseProcesses(): number[] {
  const head = Number(readFileSync(join(dataFolder(), 'data/postmaster.pid'), 'utf8').split('\n')[0])
  const mine = [head]
  for (const name of readdirSync('/proc').filter((n) => /^\d+$/.test(n))) {
    try {
      const stat = readFileSync(`/proc/${name}/stat`, 'utf8')
      if (Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]) === head) mine.push(Number(name))
    } catch {
      // it ended meanwhile
    }
  }
  return mine
}
