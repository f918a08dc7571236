// What made a value, as markup: bars from the average to the value that end where it is.
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { keys } from '../../api/keys.ts'
import { chart } from '../../chart/sample.test-data.ts'
import { Bars } from './Bars.tsx'
import type { Contributions, SharedOut } from './contributions.ts'
import { hasContributions } from './hasContributions.ts'
import { Told } from './Told.tsx'

const bar = (name: string, start: number, stop: number, more = {}): SharedOut['bars'][number] => ({
  ...{ name, start, stop, brought: stop - start, rate: null, weight: null },
  ...{ now: null, before: null, beyond: 0, stands_out: false, stands_for: 1 },
  ...more,
})

const way: SharedOut = {
  ...{ by: 'parts', says: 'Of the 9 more than usual, Ainsey brought 12.', usual: 10, value: 19 },
  bars: [
    bar('Ainsey', 10, 22, { beyond: 1, stands_out: true, rate: 13, weight: -1 }),
    bar('The others', 22, 19, { stands_for: 3 }),
  ],
}
const numbers = { unit: 'cars', power: 0, decimals: 0, level_decimals: 0 }
const answer: Contributions = {
  ...{ label: '28 Sep', than: 'usual', numbers, shared_out: [way], says: '', how: 'They add up.' },
}
const plain = (markup: string) =>
  markup
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')

function told(found: Contributions) {
  const client = new QueryClient()
  const path = { workspace: 'marrowick', kpi: 'left' }
  client.setQueryData(keys.contributions(path, { first: '2026-09-28' }), found)
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MantineProvider env="test">
        <Told path={path} asked={{ first: '2026-09-28' }} />
      </MantineProvider>
    </QueryClientProvider>,
  )
}

const { kpi } = chart([20, 21, 19], 1)

describe('what made a value', () => {
  it('goes from the usual to the value, part after part', () => {
    const markup = renderToStaticMarkup(
      <Bars way={way} label="28 Sep" than="usual" {...{ numbers }} />,
    )
    expect(plain(markup)).toMatch(/Usual 10 Ainsey .*\+12.*The others \(3 parts\) .3 28 Sep 19/)
    const bars = [...markup.matchAll(/left:([\d.]+)%;width:max\(2px, ([\d.]+)%\)/g)]
    expect(bars.map(([, left, width]) => [Number(left), Number(width)])).toEqual([
      [0, 100],
      [75, 25],
    ])
  })

  it('marks what is beyond its own limits by shape and in words', () => {
    const text = plain(told(answer))
    expect(text).toContain('above its own limits')
    expect(text).toContain('beyond its own limits')
    expect(text).toContain('rate +13, weight \u22121')
    expect(text).toContain(way.says)
  })

  it('says why there is nothing to share out among', () => {
    expect(plain(told({ ...answer, shared_out: [], says: 'Wait has no parts.' }))).toContain(
      'Wait has no parts.',
    )
  })

  it('is offered where there are parts, a ratio, or sources', () => {
    expect(hasContributions({ ...kpi, breakdowns: ['Ainsey'] })).toBe(false)
    expect(hasContributions({ ...kpi, breakdowns: ['Ainsey', 'Holmsand'] })).toBe(true)
    expect(hasContributions({ ...kpi, breakdowns: [], aggregation: 'ratio' })).toBe(true)
  })
})
