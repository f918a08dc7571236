import { Popover } from '@mantine/core'
import { useWindowEvent } from '@mantine/hooks'
import { type ReactNode, useEffect, useRef } from 'react'
import { useAsked } from '../../api/doorkeeper.ts'
import type { Box } from '../../chart/model/boxes.ts'
import { calendarIsOpen } from '../../shared/day/DayInput.tsx'
import classes from './ChartCard.module.css'
import type { Point } from './placement.ts'
import { usePlaced } from './usePlaced.ts'

interface Props {
  label: string
  at: Point
  /** What it is about, in pixels of the chart: it opens clear of that. */
  about: readonly Box[]
  /** What else is drawn, which it covers as little of as can be. */
  points: readonly Point[]
  onClose: () => void
  children: ReactNode
}

/** A card that opens at a place of the chart, takes the focus, and can be moved by its edge. */
export function ChartCard({ label, at, about, points, onClose, children }: Props) {
  const asked = useAsked()
  const close = () => {
    // What is pressed in the dialog that asks for a password is not pressed beside the card.
    if (!calendarIsOpen() && !asked) onClose()
  }
  // Before it has the focus, it hears no key itself.
  useWindowEvent('keydown', (event) => {
    if (event.key === 'Escape') close()
  })
  useFocusBack()
  const { anchor, card, position, grip } = usePlaced(at, about, points)
  return (
    <Popover
      opened
      onDismiss={close}
      onClose={close}
      closeOnEscape
      trapFocus
      width={320}
      shadow="md"
      withRoles={false}
    >
      <Popover.Target>
        <span
          ref={anchor}
          style={{ position: 'absolute', left: at.x, top: at.y, width: 1, height: 1 }}
        />
      </Popover.Target>
      <Popover.Dropdown
        ref={card}
        mah="min(400px, 48vh)"
        style={{ overflowY: 'auto', ...(position ?? { visibility: 'hidden' }) }}
        role="dialog"
        aria-label={label}
        onKeyDown={(event) => event.stopPropagation()}
      >
        {children}
        <button
          type="button"
          className={classes.grip}
          aria-label="Move the card"
          title="Move the card: pull, or use the arrow keys"
          {...grip}
        />
      </Popover.Dropdown>
    </Popover>
  )
}

/** Gives the focus back to what opened this, also where that is part of a drawing. */
function useFocusBack() {
  const opener = useRef(document.activeElement)
  useEffect(
    () => () => {
      const before = opener.current
      setTimeout(() => {
        const free = document.activeElement === null || document.activeElement === document.body
        if (free && (before instanceof HTMLElement || before instanceof SVGElement)) before.focus()
      })
    },
    [],
  )
}
