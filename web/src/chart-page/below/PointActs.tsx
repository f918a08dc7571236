import { Button } from '@mantine/core'
import classes from '../ChartPage.module.css'

interface Props {
  /** Whether the point is set aside now. */
  aside: boolean
  onShift: () => void
  onAside: () => void
  onSplit: () => void
  onEvent: (() => void) | null
  onValue: (() => void) | null
}

/** What can be done with the point that is chosen. */
export function PointActs({ aside, onShift, onAside, onSplit, onEvent, onValue }: Props) {
  return (
    <div className={classes.pointActs}>
      <Button size="compact-sm" variant="light" onClick={onShift}>
        Put a shift at this point
      </Button>
      <Button size="compact-sm" variant="light" onClick={onAside}>
        {aside ? 'Put this point back' : 'Set this point aside'}
      </Button>
      <Button size="compact-sm" variant="light" onClick={onSplit}>
        Compare before and after
      </Button>
      {onEvent && (
        <Button size="compact-sm" variant="light" onClick={onEvent}>
          Add an event here
        </Button>
      )}
      {onValue && (
        <Button size="compact-sm" variant="light" onClick={onValue}>
          Try another value
        </Button>
      )}
      <span className="quiet">
        or press <kbd>R</kbd>, <kbd>X</kbd>, <kbd>E</kbd>; <kbd>←</kbd> <kbd>→</kbd> walk the points
      </span>
    </div>
  )
}
