import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

// script/start --dev says where the server is.
declare const process: { env: Record<string, string | undefined> }
const target = `http://127.0.0.1:${process.env.PORT ?? 8421}`

const COMMON = /src\/(api\/(client|doorkeeper|keys|vocabulary)|shared\/(writing|numbers|kpis))\.ts/

const CONTROLS =
  /@mantine\/core\/esm\/components\/(Button|CloseButton|Group|Loader|Transition|UnstyledButton)\//

export default defineConfig({
  plugins: [react()],
  build: {
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        // What every screen needs comes as one: many small files compress less.
        codeSplitting: {
          groups: [
            { name: 'common', test: COMMON },
            { name: 'controls', test: CONTROLS },
          ],
        },
      },
    },
  },
  // What draws for paper stands alone: the server runs it without node_modules.
  ssr: { noExternal: true },
  // The host stays that of the page, which the check against forged requests compares with.
  server: { proxy: { '/api': { target, changeOrigin: false }, '/help': { target } } },
  test: { include: ['src/**/*.test.{ts,tsx}'] },
})
