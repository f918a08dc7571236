// @vitest-environment jsdom
// The one way to drag, as hands and keys end it.
import { cleanup, fireEvent, render } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useDragAcross } from './useDragAcross.ts'

let acts: Record<'onHold' | 'onMove' | 'onDrop' | 'onCancel', ReturnType<typeof vi.fn>>

function Handle({ threshold }: { threshold: number }) {
  const bind = useDragAcross<string>(acts as never, threshold)
  return (
    <svg aria-label="chart">
      <title>chart</title>
      <g data-testid="handle" tabIndex={0} {...bind('second')} />
    </svg>
  )
}

function taken(threshold = 0, pressed: object = {}) {
  const { getByTestId, unmount } = render(<Handle threshold={threshold} />)
  const handle = getByTestId('handle')
  fireEvent.pointerDown(handle, { clientX: 100, button: 0, ...pressed })
  return { handle, unmount }
}

beforeEach(() => {
  acts = { onHold: vi.fn(() => true), onMove: vi.fn(), onDrop: vi.fn(), onCancel: vi.fn() }
})
afterEach(cleanup)

describe('a drag', () => {
  it('takes hold, follows the hand, and drops where it is let go', () => {
    const { handle } = taken()
    expect(acts.onHold).toHaveBeenCalledWith('second', 100)
    expect(document.activeElement).toBe(handle)
    fireEvent.pointerMove(window, { clientX: 130 })
    expect(acts.onMove).toHaveBeenLastCalledWith('second', 130, 30)
    fireEvent.pointerUp(window, { clientX: 140 })
    expect(acts.onDrop).toHaveBeenCalledWith('second', 40)
    fireEvent.pointerMove(window, { clientX: 150 })
    expect(acts.onMove).toHaveBeenCalledTimes(1)
    expect(acts.onCancel).not.toHaveBeenCalled()
  })

  it.each([
    ['Escape', () => fireEvent.keyDown(window, { key: 'Escape' })],
    ['a pointer that is lost', () => fireEvent.pointerCancel(window)],
    ['a window that is left', () => fireEvent.blur(window)],
  ])('is cancelled by %s, and drops nothing after', (_, cancel) => {
    taken()
    fireEvent.pointerMove(window, { clientX: 130 })
    cancel()
    fireEvent.pointerUp(window, { clientX: 140 })
    expect(acts.onCancel).toHaveBeenCalledExactlyOnceWith('second')
    expect(acts.onDrop).not.toHaveBeenCalled()
  })

  it('takes Escape for itself alone, and only while it goes on', () => {
    const elsewhere = vi.fn()
    window.addEventListener('keydown', elsewhere)
    taken()
    fireEvent.keyDown(window, { key: 'a' })
    fireEvent.keyDown(window, { key: 'Escape' })
    expect(elsewhere).toHaveBeenCalledTimes(1)
    fireEvent.keyDown(window, { key: 'Escape' })
    expect(elsewhere).toHaveBeenCalledTimes(2)
    window.removeEventListener('keydown', elsewhere)
  })

  it('with a threshold leaves a click a click', () => {
    taken(4)
    fireEvent.pointerMove(window, { clientX: 103 })
    fireEvent.pointerUp(window, { clientX: 103 })
    expect(acts.onHold).not.toHaveBeenCalled()
    expect(acts.onDrop).not.toHaveBeenCalled()
    cleanup()
    taken(4)
    fireEvent.pointerMove(window, { clientX: 105 })
    expect(acts.onMove).toHaveBeenCalledExactlyOnceWith('second', 105, 5)
  })

  it('ends at once where there is nothing to hold, or by another button', () => {
    acts.onHold.mockReturnValue(false)
    taken()
    fireEvent.pointerMove(window, { clientX: 130 })
    expect(acts.onMove).not.toHaveBeenCalled()
    cleanup()
    taken(0, { button: 2 })
    expect(acts.onHold).toHaveBeenCalledTimes(1)
  })

  it('goes back when its chart goes away under the hand', () => {
    const { unmount } = taken()
    unmount()
    expect(acts.onCancel).toHaveBeenCalledExactlyOnceWith('second')
    fireEvent.pointerUp(window, { clientX: 140 })
    expect(acts.onDrop).not.toHaveBeenCalled()
  })
})
