import { describe, expect, it } from 'vitest'
import { asHtml, asTabbed } from './copying.ts'

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
