import { Button } from '@mantine/core'
import { useLocalStorage } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import { createPortal } from 'react-dom'
import classes from './Hints.module.css'

/** What is told of a first chart, each at the thing itself. */
const HINTS = [
  {
    at: '[data-line="average"]',
    says: 'Each number says how it was made: press it. This is the average, which the values swing around.',
  },
  {
    at: '[data-line="upper"]',
    says: 'Nearly every value lies below this limit, and above its twin, while nothing changes. One beyond is worth asking about; the others are routine.',
  },
  {
    at: '#next-value',
    says: 'When the next value is due, type it here, or let a feed bring it. Its mark tells whether to ask.',
  },
] as const
const WIDTH = 280
const GAP = 12

/** Three hints on the first chart of a workspace, once, one after the other. */
export function Hints() {
  const [over, setOver] = useLocalStorage({ key: 'fluctus-hints-told', defaultValue: false })
  const [step, setStep] = useState(0)
  // What is not on this chart is passed over.
  const there = HINTS.filter(({ at }) => document.querySelector(at))
  const hint = there[step]
  const spot = useSpot(over ? undefined : hint?.at)
  if (over || !hint || !spot) return null
  const last = step === there.length - 1
  return createPortal(
    <aside
      className={`card ${classes.hint}`}
      aria-label={`Hint ${step + 1} of ${there.length}`}
      style={{ left: spot.x, top: spot.y, width: WIDTH }}
    >
      <p>{hint.says}</p>
      <div>
        <span className="quiet">
          {step + 1} of {there.length}
        </span>
        {!last && (
          <Button size="compact-sm" variant="subtle" onClick={() => setOver(true)}>
            Enough
          </Button>
        )}
        <Button size="compact-sm" onClick={() => (last ? setOver(true) : setStep(step + 1))}>
          {last ? 'Understood' : 'Next'}
        </Button>
      </div>
    </aside>,
    document.body,
  )
}

/** Where beside a thing a hint stands: never over it, and within the page. */
function useSpot(at: string | undefined) {
  const [spot, setSpot] = useState<{ x: number; y: number } | null>(null)
  useEffect(() => {
    if (!at) return
    const look = () => {
      const box = document.querySelector(at)?.getBoundingClientRect()
      if (!box) return setSpot(null)
      const page = document.documentElement
      const left = box.left - WIDTH - GAP
      const beside = left > GAP
      setSpot({
        x: (beside ? left : Math.min(box.left, page.clientWidth - WIDTH - GAP)) + window.scrollX,
        y: (beside ? box.top - 20 : box.bottom + GAP) + window.scrollY,
      })
    }
    look()
    const observer = new ResizeObserver(look)
    observer.observe(document.body)
    return () => observer.disconnect()
  }, [at])
  return spot
}
