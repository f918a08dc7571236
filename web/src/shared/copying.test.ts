import { describe, expect, it } from 'vitest'
import { asCsv, asHtml, asTabbed, safeCell } from './copying.ts'

describe('a cell', () => {
  it.each(['=1+1', ' =1', '@SUM(A1)', '+cmd', '-cmd', '\u200b=1', '＝1'])(
    'of “%s” runs nowhere',
    (text) => {
      expect(safeCell(text)).toBe(`'${text}`)
    },
  )

  it.each(['-2.1', '+4%', '19.4 min', 'Ainsey', '−2.1', ''])('of “%s” stays as it is', (text) => {
    expect(safeCell(text)).toBe(text)
  })

  it('keeps its commas and quotes in a file', () => {
    expect(asCsv([['a,b', 'c"d']])).toBe('"a,b","c""d"')
  })
})

describe('a copied table', () => {
  it('keeps each value in a cell of its own, whatever stands in it', () => {
    const rows = [
      ['period', 'note'],
      ['2026-01-05', 'a\tb\nc'],
    ]
    expect(asTabbed(rows)).toBe('period\tnote\n2026-01-05\ta b c')
  })

  it('lets no cell become markup', () => {
    const html = asHtml([['note'], ['<img src=x onerror="alert(1)">&']])
    expect(html).toContain('<td>&#60;img src=x onerror=&#34;alert(1)&#34;&#62;&#38;</td>')
    expect(html.match(/<(?!\/?(table|thead|tbody|tr|th|td)>)/)).toBeNull()
  })
})
