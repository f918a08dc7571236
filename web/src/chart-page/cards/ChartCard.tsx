import { Popover } from '@mantine/core'
import { useWindowEvent } from '@mantine/hooks'
import { type ReactNode, useEffect, useRef } from 'react'
import { useAsked } from '../../api/doorkeeper.ts'
import { calendarIsOpen } from '../../shared/day/DayInput.tsx'

interface Props {
  label: string
  at: { x: number; y: number }
  position: 'top' | 'left' | 'right' | 'bottom'
  onClose: () => void
  children: ReactNode
}

/** Pixels between a card and what it is about, so that its mark is seen. */
const OFFSET = 18

/** A card that opens at a place of the chart, and takes the focus. */
export function ChartCard({ label, at, position, onClose, children }: Props) {
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
  return (
    <Popover
      opened
      onDismiss={close}
      onClose={close}
      closeOnEscape
      trapFocus
      width={320}
      shadow="md"
      withArrow
      withRoles={false}
      position={position}
      offset={OFFSET}
    >
      <Popover.Target>
        <span style={{ position: 'absolute', left: at.x, top: at.y, width: 1, height: 1 }} />
      </Popover.Target>
      <Popover.Dropdown
        mah="min(400px, 48vh)"
        style={{ overflowY: 'auto' }}
        role="dialog"
        aria-label={label}
        onKeyDown={(event) => event.stopPropagation()}
      >
        {children}
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
