import type { FullConfig } from '@playwright/test'
import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync, rmSync, statfsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { machine } from './machine'

/**
 * Starts the binary once for each worker, on a folder and a PostgreSQL of its own (some tests end the database); the printed
 * addresses go to the tests, the folders go at the end.
 */
export default async function setup({ workers }: FullConfig) {
  const started = await Promise.all(Array.from({ length: workers }, (_, n) => start(n)))
  return async () => {
    await Promise.all(started.map((stop) => stop()))
  }
}

/** A folder in memory, where the system has one with so much room: a slow disk is waited for with everything that is kept. */
function inMemory(room: number): string {
  const shm = '/dev/shm'
  try {
    const { bavail, bsize } = statfsSync(shm)
    return bavail * bsize >= room ? shm : tmpdir()
  } catch {
    return tmpdir()
  }
}

async function start(worker: number) {
  const data = mkdtempSync(join(inMemory(2 ** 30), 'eventether-e2e-'))
  const sys = machine(mkdtempSync(join(tmpdir(), 'eventether-sys-')))
  const args = ['demo', '--data', data, '--sys', sys, '--port', String(4270 + 100 * worker)]
  const server = spawn('../bin/eventether', args, { stdio: ['ignore', 'pipe', 'ignore'] })
  process.env[`EVENTETHER_URL_${worker}`] = await address(server)
  process.env[`EVENTETHER_DATA_${worker}`] = data
  return async () => {
    const ended = new Promise((done) => server.once('exit', done))
    server.kill('SIGINT')
    await ended
    for (const folder of [data, sys]) rmSync(folder, { recursive: true, force: true })
  }
}

function address(server: ChildProcess): Promise<string> {
  return new Promise((found, failed) => {
    let text = ''
    server.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString()
      const at = /http:\/\/[\d.:]+/.exec(text)
      if (at) found(at[0])
    })
    server.once('exit', (code) => failed(new Error(`eventether ended with ${code}: ${text}`)))
  })
}
