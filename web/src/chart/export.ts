// The chart as a picture that looks like the screen: the same SVG, made to stand alone.
import fontUrl from '@fontsource-variable/hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2?url'

const STYLES = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-opacity',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'font-size',
  'font-weight',
  'text-anchor',
  'transform',
  'paint-order',
  'opacity',
]
export const SVG = 'http://www.w3.org/2000/svg'
const HEAD = 74
/** Right of the tags, which touch the edge of the chart on screen. */
const MARGIN = 12
const FONT = "'Hanken Grotesk Variable', 'DejaVu Sans', sans-serif"

export interface Words {
  title: string
  subtitle: string
  headline: string
}

/** Writes the chart on screen as an SVG document of its own, with its title and sentence. */
export async function standAloneSvg(svg: SVGSVGElement, words: Words): Promise<string> {
  const width = svg.viewBox.baseVal.width + MARGIN
  const height = svg.viewBox.baseVal.height + HEAD
  const chart = document.createElementNS(SVG, 'g')
  chart.setAttribute('transform', `translate(0,${HEAD})`)
  chart.append(...inlined(svg).childNodes)
  const ink = color('--ink')
  const head = [
    text(words.title, 8, 30, 22, 700, ink),
    text(words.subtitle, 8, 47, 12, 400, color('--quiet')),
    text(words.headline, 8, 66, 13.5, 600, ink),
  ]
  return alone([...head, chart], width, height)
}

/** A copy of a drawing with its styles in it, without what only serves a hand or an eye at it. */
export function inlined(svg: SVGSVGElement): SVGSVGElement {
  const copy = svg.cloneNode(true) as SVGSVGElement
  inline(svg, copy)
  for (const part of copy.querySelectorAll('[data-on-screen]')) part.remove()
  return copy
}

/** Writes drawings as one SVG document, on the ground of the screen and with the typeface in it. */
export async function alone(parts: Element[], width: number, height: number): Promise<string> {
  const whole = document.createElementNS(SVG, 'svg')
  whole.setAttribute('xmlns', SVG)
  whole.setAttribute('width', String(width))
  whole.setAttribute('height', String(height))
  whole.setAttribute('viewBox', `0 0 ${width} ${height}`)
  whole.setAttribute('font-family', FONT)
  const style = document.createElementNS(SVG, 'style')
  style.textContent = `@font-face{font-family:'Hanken Grotesk Variable';font-weight:100 900;src:url(${await fontData()}) format('woff2')}text{font-variant-numeric:tabular-nums}`
  const ground = document.createElementNS(SVG, 'rect')
  ground.setAttribute('width', '100%')
  ground.setAttribute('height', '100%')
  ground.setAttribute('fill', color('--ground'))
  whole.append(style, ground, ...parts)
  return new XMLSerializer().serializeToString(whole)
}

const color = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim()

export async function asPng(svg: string): Promise<Blob> {
  const picture = new Image()
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await picture.decode()
  const scale = 2
  const canvas = document.createElement('canvas')
  canvas.width = picture.naturalWidth * scale
  canvas.height = picture.naturalHeight * scale
  const context = canvas.getContext('2d')
  if (!context) throw new Error('This browser cannot draw the picture.')
  context.scale(scale, scale)
  context.drawImage(picture, 0, 0)
  return new Promise((resolve, reject) => {
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('No picture was made.'))))
  })
}

export function download(blob: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  // The browser has taken what it needs by the next turn.
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}

function inline(from: Element, to: Element) {
  const computed = getComputedStyle(from)
  if (from.tagName !== 'svg') {
    for (const name of STYLES) {
      const value = computed.getPropertyValue(name)
      if (name === 'transform' && (value === 'none' || from.hasAttribute('transform'))) continue
      to.setAttribute(name, value)
    }
  }
  to.removeAttribute('class')
  to.removeAttribute('style')
  to.removeAttribute('tabindex')
  for (let n = 0; n < from.children.length; n++) {
    const [a, b] = [from.children[n], to.children[n]]
    if (a && b) inline(a, b)
  }
}

function text(words: string, x: number, y: number, size: number, weight: number, color: string) {
  const element = document.createElementNS(SVG, 'text')
  element.textContent = words
  const attributes = { x, y, fill: color, 'font-size': size, 'font-weight': weight }
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, String(value))
  return element
}

async function fontData(): Promise<string> {
  const bytes = new Uint8Array(await (await fetch(fontUrl)).arrayBuffer())
  let binary = ''
  for (const byte of bytes) binary += String.fromCharCode(byte)
  return `data:font/woff2;base64,${btoa(binary)}`
}
