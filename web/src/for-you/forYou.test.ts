import { describe, expect, it } from 'vitest'
import { nameBegun, withName } from './forYou.ts'

describe('naming a person', () => {
  it.each([
    ['@', ''],
    ['Ask @rho', 'rho'],
    ['(@Rhona Ba', 'Rhona Ba'],
    ['mail rhona@marrowick', null],
    ['nobody', null],
    ['@Rhona\nnext line', null],
  ])('sees in “%s” that %s is begun', (text, begun) => {
    expect(nameBegun(text)).toBe(begun)
  })

  it('writes the name out where it was begun', () => {
    expect(withName('Ask @rho', 'Rhona Baird')).toBe('Ask @Rhona Baird ')
  })
})
