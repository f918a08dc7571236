import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

// script/start --dev says where the server is.
declare const process: { env: Record<string, string | undefined> }
const target = `http://127.0.0.1:${process.env.PORT ?? 8421}`

/** In which file a module comes: forty small ones cost a slow line more than what they spare. What
 * only one screen needs is left to come with it. */
const FILES = [
  { name: 'base', tags: ['$initial' as const], priority: 9 },
  {
    name: 'inputs',
    test: /@mantine\/(hooks\/|core\/esm\/components\/((InputBase|TextInput|Input)\/|Combobox\/(ComboboxChevron|get-parsed)))|@tabler|(useQ|q)ueries/,
    priority: 8,
  },
  {
    name: 'fields',
    test: /@mantine\/core|remove-scroll|floating-ui/,
    minShareCount: 8,
    priority: 5,
  },
  {
    // What a chart is drawn and dragged by, on its screen, a page, a meeting or a link.
    name: 'drawn',
    test: /src\/(api\/|chart\/(ChartView|hairline|gestures|layers|model|small\/(WordsAtPoint|place|Strip|TimeAxis)|text)|chart-page\/(data|session)\/|findings\/StatePill|history\/acts|improvements\/begun|shared\/(contributions\/WhatMadeIt|day\/|directions|numbers|typing)|values\/values)/,
    minShareCount: 2,
    priority: 4,
  },
  {
    name: 'parts',
    test: /src\/(chart\/small|feeds|findings|for-you|improvements|pages\/pages|shared)/,
    minShareCount: 3,
    maxModuleSize: 5000,
  },
  { name: 'choices', test: /@mantine/, minShareCount: 3 },
]

export default defineConfig({
  plugins: [react()],
  build: {
    // By which the server tells a browser early what the screen at an address needs.
    manifest: true,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: { groups: FILES },
      },
    },
  },
  // What draws for paper stands alone, but for what makes pictures, which is no script.
  ssr: { noExternal: true, external: ['@resvg/resvg-js'] },
  // The host stays that of the page, which the check against forged requests compares with.
  server: { proxy: { '/api': { target, changeOrigin: false }, '/help': { target } } },
  // Files share a process: each leaves the document as it found it, and starting one takes longer.
  test: { include: ['src/**/*.test.{ts,tsx}'], isolate: false },
})
