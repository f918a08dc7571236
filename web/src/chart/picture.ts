// A part of the page as one picture that stands alone: its drawings, and its texts as they lie.
import { alone, asPng, download, inlined, SVG } from './export.ts'

/** What serves a hand, and is no part of what is shown. */
const NOT_SHOWN =
  'button:not(td *, th *), input, select, textarea, nav, [role=radiogroup], .mantine-InputWrapper-root, .unseen, [data-on-screen]'
const PADDING = 20

/** Writes all that a part of the page shows as an SVG document. */
export async function pictureOf(root: HTMLElement): Promise<string> {
  const box = root.getBoundingClientRect()
  const parts: Element[] = []
  for (const svg of root.querySelectorAll('svg')) {
    if (svg.closest(NOT_SHOWN) || svg.parentElement?.closest('svg')) continue
    const at = svg.getBoundingClientRect()
    if (at.width < 1 || at.height < 1) continue
    const copy = inlined(svg)
    for (const [name, value] of Object.entries({
      x: at.left - box.left + PADDING,
      y: at.top - box.top + PADDING,
      width: at.width,
      height: at.height,
    }))
      copy.setAttribute(name, String(value))
    parts.push(copy)
  }
  for (const line of textLines(root)) {
    const text = document.createElementNS(SVG, 'text')
    text.textContent = line.text
    for (const [name, value] of Object.entries({
      x: line.x - box.left + PADDING,
      y: line.y - box.top + PADDING,
      'font-size': line.size,
      'font-weight': line.weight,
      fill: line.color,
    }))
      text.setAttribute(name, String(value))
    parts.push(text)
  }
  return alone(parts, box.width + 2 * PADDING, box.height + 2 * PADDING)
}

interface Line {
  text: string
  x: number
  y: number
  size: string
  weight: string
  color: string
}

/** The texts outside of drawings, line by line as they are broken on screen. */
function textLines(root: HTMLElement): Line[] {
  const lines: Line[] = []
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const parent = node.parentElement
    if (!node.textContent?.trim() || !parent || parent.closest(`svg, ${NOT_SHOWN}`)) continue
    const style = getComputedStyle(parent)
    if (style.visibility === 'hidden') continue
    const range = document.createRange()
    let last: { line: Line; top: number } | null = null
    for (const word of node.textContent.matchAll(/\S+\s*/g)) {
      range.setStart(node, word.index)
      range.setEnd(node, word.index + word[0].trimEnd().length)
      const at = range.getBoundingClientRect()
      if (at.width < 1) continue
      if (last && Math.abs(at.top - last.top) < 3) {
        last.line.text += word[0]
        continue
      }
      const size = Number.parseFloat(style.fontSize)
      const line: Line = {
        text: word[0],
        x: at.left,
        // The baseline, near enough for every size: a fifth of a letter is below it.
        y: at.bottom - (at.height - size) / 2 - size * 0.22,
        size: style.fontSize,
        weight: style.fontWeight,
        color: style.color,
      }
      lines.push(line)
      last = { line, top: at.top }
    }
  }
  return lines
}

/** The tables that a part of the page shows, one below the other, as rows of cells. */
export function tablesOf(root: HTMLElement): string[][] {
  return [...root.querySelectorAll('table')].flatMap((table, n) => [
    ...(n > 0 ? [[]] : []),
    ...[...table.rows].map((row) => [...row.cells].map((cell) => cell.innerText.trim())),
  ])
}

export const pngOf = async (root: HTMLElement) => asPng(await pictureOf(root))

export async function savePicture(root: HTMLElement, name: string, kind: 'svg' | 'png') {
  const svg = async () => new Blob([await pictureOf(root)], { type: 'image/svg+xml' })
  download(await (kind === 'png' ? pngOf(root) : svg()), `${name}.${kind}`)
}
