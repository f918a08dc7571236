import { describe, expect, it } from 'vitest'
import cases from '../../../tests/core/numbers.json'
import {
  amountText,
  countedIn,
  fullText,
  levelAmountText,
  signedLevel,
  tickText,
} from './numbers.ts'

interface Case {
  unit: string
  power: number
  decimals: number
  level_decimals: number
  number: number
  amount: string
  level: string
}

const CASES: Case[] = cases
const plain = (text: string) => text.replaceAll('\u00a0', ' ')

describe('numbers', () => {
  it.each(CASES)('are written as the server writes them: $amount', (one) => {
    expect(plain(amountText(one.number, one))).toBe(one.amount)
    expect(plain(levelAmountText(one.number, one))).toBe(one.level)
  })

  it('are written in full, with a sign, and on an axis', () => {
    const millions = { unit: '€', power: 6, decimals: 2, level_decimals: 2 }
    expect(fullText(1934512, { unit: '€', decimals: 0 })).toBe('€1,934,512')
    expect(fullText(1934512, { unit: '€', decimals: 0 }, { bare: true })).toBe('1,934,512')
    expect(plain(signedLevel(20_000, millions))).toBe('+€0.02 M')
    expect(signedLevel(0.001, { ...millions, power: 0 })).toBe('€0.00')
    expect(countedIn(millions)).toBe('€M')
    expect(countedIn({ ...millions, unit: 'kg', power: 3 })).toBe('k kg')
    expect(countedIn({ ...millions, unit: 'min', power: 0 })).toBe('min')
    expect(tickText(1_950_000, 50_000, millions)).toBe('1.95')
    expect(tickText(2e-7, 1e-7, { ...millions, power: 0 })).toBe('0.0000002')
  })
})
