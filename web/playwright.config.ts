import { defineConfig } from '@playwright/test'
import { availableParallelism } from 'node:os'

/** The real binary with a real database of its own, driven in Debian's Chromium. */
export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/setup.ts',
  workers: Math.max(1, Math.min(4, availableParallelism())),
  fullyParallel: false,
  grep: process.env.BENCH ? /bench:/ : undefined,
  grepInvert: process.env.BENCH ? undefined : /bench:/,
  forbidOnly: !!process.env.CI,
  timeout: 60_000,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    trace: process.env.TRACE ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        ...(process.env.BENCH ? [] : ['--js-flags=--no-opt']), // pages live for seconds: what is optimised is not worth it
      ],
    },
  },
})
