// Each screen leads to a page of the manual that there is.
import { existsSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { helpFor } from './helpPages.ts'

const app = readFileSync(`${import.meta.dirname}/App.tsx`, 'utf8')
const routes = [...app.matchAll(/<Route path="([a-z][^"]*)"/g)].map(([, path]) => path ?? '')

describe('the manual', () => {
  it('has the page that each screen leads to', () => {
    const screens = routes.filter((path) => !/^(l|join|reset|forgotten)/.test(path))
    expect(screens.length).toBeGreaterThan(20)
    for (const path of screens) {
      const page = helpFor(`/marrowick/${path.replace(/:\w+/g, 'x')}`)
      const source = page.replace('/help/', '').replace('.html', '.md')
      expect(existsSync(`${import.meta.dirname}/../../../docs/manual/${source}`), page).toBe(true)
      // None is left to the first page for want of one of its own.
      expect(page, path).not.toBe('/help/index.html')
    }
  })

  it('begins at its first page for the overview, and for what there is not', () => {
    for (const path of ['/', '/marrowick', '/marrowick/nothing'])
      expect(helpFor(path)).toBe('/help/index.html')
  })
})
