import {
  type KeyboardEvent,
  type PointerEvent,
  type RefObject,
  useCallback,
  useLayoutEffect,
  useRef,
  useState,
} from 'react'
import { type Box, shared } from '../../chart/model/boxes.ts'
import { type Point, placeCard } from './placement.ts'

/** Pixels between a card and the edges of the window. */
const EDGE = 8
/** How far an arrow key moves a card. */
const NUDGE = 16

interface Position {
  left: number
  top: number
  /** Less than it would take, where it is scrolled so as not to cover what it is about. */
  maxHeight?: number
}

/**
 * Where a card stands, in pixels of the page. It stays there while its fields change, but where it
 * would come to lie over what it is about; one that was moved by hand stays where it was put.
 */
export function usePlaced(at: Point, about: readonly Box[], points: readonly Point[]) {
  const anchor = useRef<HTMLSpanElement>(null)
  const [card, setCard] = useState<HTMLDivElement | null>(null)
  const [position, setPosition] = useState<Position | null>(null)
  const moved = useRef(false)

  const settle = useCallback(() => {
    const frame = anchor.current?.parentElement
    if (!card || !frame || moved.current) return
    const { left, top } = frame.getBoundingClientRect()
    const size = { width: card.offsetWidth, height: card.offsetHeight }
    const room = roomWithin(left, top, size.width)
    setPosition((now) => {
      if (now) {
        const [x, y] = [now.left - left - scrollX, now.top - top - scrollY]
        const box = { x0: x, y0: y, x1: x + size.width, y1: y + size.height }
        if (box.y1 <= room.y1 + 1 && about.every((one) => shared(box, one) === 0)) return now
      }
      const to = placeCard(size, room, about, points, at)
      const next = { left: to.left + left + scrollX, top: to.top + top + scrollY }
      if (to.height < size.height) return { ...next, maxHeight: to.height }
      return now?.left === next.left && now.top === next.top ? now : next
    })
  }, [card, about, points, at])

  useLayoutEffect(() => {
    settle()
    if (!card) return
    // What is in it comes later, and grows as parts of it are unfolded.
    const seen = new ResizeObserver(settle)
    seen.observe(card)
    return () => seen.disconnect()
  }, [card, settle])

  const grip = useGrip(card, (to) => {
    moved.current = true
    setPosition(to)
  })
  return { anchor, card: setCard, position, grip }
}

/** What of the window a card may stand in, in pixels of the chart: beside the rail where it can. */
function roomWithin(left: number, top: number, width: number): Box {
  const { clientWidth, clientHeight } = document.documentElement
  const right = clientWidth - EDGE - left
  return {
    x0: right >= width ? Math.max(0, EDGE - left) : EDGE - left,
    x1: right,
    y0: EDGE - top,
    y1: clientHeight - EDGE - top,
  }
}

/** Moves a card by its edge, with a pointer or with the arrow keys. */
function useGrip(card: HTMLDivElement | null, to: (position: Position) => void) {
  const held: RefObject<Position | null> = useRef(null)
  const within = ({ left, top }: Position): Position => {
    const { clientWidth, clientHeight } = document.documentElement
    const [width, height] = [card?.offsetWidth ?? 0, card?.offsetHeight ?? 0]
    return {
      left: between(scrollX + EDGE, left, scrollX + clientWidth - EDGE - width),
      top: between(scrollY + EDGE, top, scrollY + clientHeight - EDGE - height),
    }
  }
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (!card) return
      event.currentTarget.setPointerCapture(event.pointerId)
      const { left, top } = card.getBoundingClientRect()
      held.current = { left: event.clientX - left, top: event.clientY - top }
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (!held.current) return
      to(
        within({
          left: event.clientX - held.current.left + scrollX,
          top: event.clientY - held.current.top + scrollY,
        }),
      )
    },
    onPointerUp: () => {
      held.current = null
    },
    onPointerCancel: () => {
      held.current = null
    },
    onKeyDown: (event: KeyboardEvent<HTMLElement>) => {
      const by = ARROWS[event.key]
      if (!by || !card) return
      event.preventDefault()
      const { left, top } = card.getBoundingClientRect()
      to(within({ left: left + scrollX + by.x * NUDGE, top: top + scrollY + by.y * NUDGE }))
    },
  }
}

const ARROWS: Record<string, Point> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
}

function between(low: number, value: number, high: number): number {
  return Math.max(low, Math.min(value, high))
}
