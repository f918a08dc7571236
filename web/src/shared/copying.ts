// What is copied, in the formats that other programs paste.
import { notifications } from '@mantine/notifications'
import { csvFormatRows, csvParseRows } from 'd3-dsv'
import { notifyProblem } from './notifications.tsx'

const done = (what: string) => notifications.show({ message: `The ${what} is copied.` })

async function copy(what: string, formats: Record<string, Blob | Promise<Blob>>) {
  try {
    // A promise, so that the browser counts what takes long to make as asked for by the hand.
    await navigator.clipboard.write([new ClipboardItem(formats)])
    done(what)
  } catch (error) {
    notifyProblem(
      error instanceof Error && error.name !== 'NotAllowedError'
        ? error
        : new Error('This browser does not let pages copy. Take the file instead.'),
    )
  }
}

const blob = (text: string, type: string) => new Blob([text], { type })

export const copyText = (what: string, text: string) =>
  copy(what, { 'text/plain': blob(text, 'text/plain') })

export const copyPicture = (png: Promise<Blob>) => copy('picture', { 'image/png': png })

/** Copies a table that the server writes as CSV: as a table for texts and as cells for sheets. */
export function copyTable(address: string) {
  const rows = fetch(address).then(async (answer) => {
    if (!answer.ok) throw new Error('The table could not be read. Try again.')
    return csvParseRows(await answer.text())
  })
  return copy('table', {
    'text/plain': rows.then((table) => blob(asTabbed(table), 'text/plain')),
    'text/html': rows.then((table) => blob(asHtml(table), 'text/html')),
  })
}

/** Copies a table that is on screen. */
export const copyRows = (rows: string[][]) =>
  copy('table', {
    'text/plain': blob(asTabbed(rows.map((row) => row.map(safeCell))), 'text/plain'),
    'text/html': blob(asHtml(rows), 'text/html'),
  })

/** Rows as CSV, of which no cell can run as a formula. */
export const asCsv = (rows: string[][]) => csvFormatRows(rows.map((row) => row.map(safeCell)))

/** A cell that no spreadsheet takes for a formula; a number stays one. */
export function safeCell(text: string): string {
  const plain = text.normalize('NFKC').replace(/[\s\p{Cf}\p{Cc}\p{Mn}]/gu, '')
  return /^[=+\-@]/.test(plain) && !/^[+-][\d.,]+%?$/.test(plain) ? `'${text}` : text
}

/** Cells apart by tabs: none of them holds one, or a line's end. */
export const asTabbed = (rows: string[][]) =>
  rows.map((row) => row.map((cell) => cell.replace(/[\t\r\n]+/g, ' ')).join('\t')).join('\n')

export function asHtml([head = [], ...rows]: string[][]): string {
  const cells = (row: string[], tag: string) =>
    row.map((cell) => `<${tag}>${escaped(cell)}</${tag}>`).join('')
  const body = rows.map((row) => `<tr>${cells(row, 'td')}</tr>`).join('')
  return `<table><thead><tr>${cells(head, 'th')}</tr></thead><tbody>${body}</tbody></table>`
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`)
