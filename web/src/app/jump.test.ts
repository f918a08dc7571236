// What is jumped to: the name that was typed, before what only speaks of it.
import { describe, expect, it } from 'vitest'
import { named } from './Jump.tsx'

const goals = [
  { name: 'Lane wait', hint: 'Quays' },
  { name: 'Pages', hint: 'sheets arranged for others' },
  { name: 'For you', hint: 'assigned, due, named' },
  { name: 'Waiting for fuel', hint: 'Vessels' },
]
const names = (text: string) => named(goals, text).map(({ name }) => name)

describe('jumping', () => {
  it('goes to a name that begins so, then to one that has it, then to what is said of it', () => {
    expect(names('for')).toEqual(['For you', 'Waiting for fuel', 'Pages'])
    expect(names('WAIT')).toEqual(['Waiting for fuel', 'Lane wait'])
  })

  it('takes words in any order, and all there is where nothing was typed', () => {
    expect(names('fuel waiting')).toEqual(['Waiting for fuel'])
    expect(names('vessels fuel')).toEqual(['Waiting for fuel'])
    expect(names(' ')).toEqual(goals.map(({ name }) => name))
    expect(names('ferry')).toEqual([])
  })
})
