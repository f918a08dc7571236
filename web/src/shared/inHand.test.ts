// @vitest-environment jsdom
// Nothing is pulled away from whoever holds it.
import { renderHook } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { useInHand, whenHandsAreFree } from './inHand.ts'

describe('what is in hand', () => {
  it('keeps what would disturb waiting until all of it is put down, and lets it come once', () => {
    const act = vi.fn()
    const first = renderHook(({ on }) => useInHand(on), { initialProps: { on: true } })
    const second = renderHook(() => useInHand(true))
    whenHandsAreFree(act)
    whenHandsAreFree(act)
    first.rerender({ on: false })
    expect(act).not.toHaveBeenCalled()
    second.unmount()
    expect(act).toHaveBeenCalledTimes(1)
    whenHandsAreFree(act)
    expect(act).toHaveBeenCalledTimes(2)
  })
})
