// Pictures of drawings, by the typeface as the build has written it beside this program.
import { readdirSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { Resvg } from '@resvg/resvg-js'

export interface Pictured {
  svg: string
  /** How many times as large as it was drawn. */
  scale: number
}

const FONTS = join(dirname(process.argv[1] ?? ''), 'fonts')

/** The picture of a drawing on white paper: a PNG, in base 64. */
export function asPng({ svg, scale }: Pictured): string {
  const picture = new Resvg(svg, {
    background: '#fff',
    fitTo: { mode: 'zoom', value: scale },
    font: {
      // For letters of other scripts, which ours has not.
      loadSystemFonts: true,
      fontFiles: readdirSync(FONTS).map((name) => join(FONTS, name)),
      defaultFontFamily: 'Hanken Grotesk',
    },
  })
  return picture.render().asPng().toString('base64')
}
