// Draws panels for the server, and makes pictures of drawings: a line of JSON in, a line of JSON
// out, in the order they came.
import { createInterface } from 'node:readline'
import { loadCountries } from '../compare/countries.ts'
import { drawn, type Wanted } from './draw.tsx'
import { asPng, type Pictured } from './picture.ts'

// A drawing waits for nothing: what maps are made of is there before the first.
await loadCountries()

function answer(line: string): string {
  try {
    const asked = JSON.parse(line) as Wanted | Pictured
    return JSON.stringify('svg' in asked ? { png: asPng(asked) } : { svg: drawn(asked) })
  } catch (error) {
    return JSON.stringify({ error: String(error) })
  }
}

for await (const line of createInterface({ input: process.stdin }))
  process.stdout.write(`${answer(line)}\n`)
