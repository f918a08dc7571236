// Draws charts for the server: a line of JSON in, a line of JSON out, in the order they came.
import { createInterface } from 'node:readline'
import { drawn, type Wanted } from './draw.tsx'

function answer(line: string): string {
  try {
    return JSON.stringify({ svg: drawn(JSON.parse(line) as Wanted) })
  } catch (error) {
    return JSON.stringify({ error: String(error) })
  }
}

for await (const line of createInterface({ input: process.stdin }))
  process.stdout.write(`${answer(line)}\n`)
