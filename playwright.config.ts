import { defineConfig } from '@playwright/test'

const studio = `http://localhost:${process.env.STUDIO_PORT ?? '4100'}`

// The pattern for bots knows headless browsers: tests come as a common one. Also by the flag, since what a page hands over
// when it is left is sent under the browser's own name.
const userAgent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36'

export default defineConfig({
  testDir: 'e2e',
  timeout: 240_000,
  expect: { timeout: 15_000 },
  // The tests share one demo, and each leaves its own parts of it alone: one after the other.
  workers: 1,
  fullyParallel: false,
  reporter: [['list']],
  use: {
    baseURL: studio,
    viewport: { width: 1280, height: 800 },
    // One thing that is not there costs seconds and not the whole time of its test.
    actionTimeout: 15_000,
    navigationTimeout: 30_000,
    userAgent,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        `--user-agent=${userAgent}`,
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
    // Recording every step makes all of them slower: on demand, with TRACE=1.
    trace: process.env.TRACE === '1' ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
  },
})
