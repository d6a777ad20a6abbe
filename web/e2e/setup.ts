import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** Starts the binary on a folder of its own; the printed address goes to the tests, the folder goes at the end. */
export default async function setup() {
  const data = mkdtempSync(join(tmpdir(), 'eventether-e2e-'))
  const server = spawn('../bin/eventether', ['demo', '--data', data, '--port', '4270'], {
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  process.env.EVENTETHER_URL = await address(server)
  process.env.EVENTETHER_DATA = data
  return async () => {
    const ended = new Promise((done) => server.once('exit', done))
    server.kill('SIGINT')
    await ended
    rmSync(data, { recursive: true, force: true })
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
