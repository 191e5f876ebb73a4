import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './chromium.mjs'

const port = process.env.VELVET_PORT ?? '8417'

export default defineConfig({
  testDir: 'e2e',
  workers: 1,
  retries: 0,
  timeout: 60_000,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    launchOptions: CHROMIUM,
  },
})
