// @vitest-environment jsdom
// Zooming with the wheel, and with two fingers.
import { act, cleanup, render } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useZoom } from './useZoom.ts'

const zoom = vi.fn()

function Chart() {
  return <div data-testid="chart" ref={useZoom(zoom)} />
}

const touches = (...xs: number[]) =>
  Object.assign(new Event('touchmove', { cancelable: true }), {
    touches: xs.map((clientX) => ({ clientX, clientY: 0 })),
  })

describe('zooming', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    zoom.mockClear()
  })
  afterEach(() => {
    cleanup()
    vi.useRealTimers()
  })

  it('takes the wheel with Ctrl, gathered into one, and leaves it alone without', () => {
    const chart = render(<Chart />).getByTestId('chart')
    const turn = (deltaY: number, ctrlKey: boolean) =>
      new WheelEvent('wheel', { deltaY, ctrlKey, clientX: 30, cancelable: true })
    const plain = turn(100, false)
    act(() => {
      chart.dispatchEvent(plain)
      vi.runAllTimers()
    })
    expect(plain.defaultPrevented).toBe(false)
    expect(zoom).not.toHaveBeenCalled()
    act(() => {
      chart.dispatchEvent(turn(200, true))
      chart.dispatchEvent(turn(200, true))
      vi.runAllTimers()
    })
    expect(zoom).toHaveBeenCalledTimes(1)
    expect(zoom.mock.calls[0]?.[0]).toBeCloseTo(Math.E)
    expect(zoom.mock.calls[0]?.[1]).toBe(30)
  })

  it('takes two fingers that part or meet, and no single one', () => {
    const chart = render(<Chart />).getByTestId('chart')
    const single = touches(10)
    act(() => {
      chart.dispatchEvent(single)
      chart.dispatchEvent(touches(100, 200))
      chart.dispatchEvent(touches(50, 250))
      vi.runAllTimers()
    })
    expect(single.defaultPrevented).toBe(false)
    expect(zoom).toHaveBeenCalledTimes(1)
    expect(zoom.mock.calls[0]?.[0]).toBeCloseTo(0.5)
    expect(zoom.mock.calls[0]?.[1]).toBe(150)
  })
})
