import type { ReactNode } from 'react'
import type { Chart, Shown } from '../../chart/model/types.ts'
import { amountText } from '../../shared/numbers.ts'
import classes from '../ChartPage.module.css'

interface Props {
  chart: Chart
  shown: Shown
  onChange: (shown: Shown) => void
  onAddTarget: () => void
}

/** The lines of the chart, each switched on and off by its chip. */
export function Chips({ chart, shown, onChange, onAddTarget }: Props) {
  const { kpi, target_now: target } = chart
  const chip = (name: keyof Shown, label: string, sample: ReactNode) => (
    <button
      type="button"
      className={classes.chip}
      aria-pressed={shown[name]}
      onClick={() => onChange({ ...shown, [name]: !shown[name] })}
    >
      <svg width={18} height={12} aria-hidden="true" focusable="false">
        {sample}
      </svg>
      {label}
    </button>
  )
  return (
    <>
      {kpi.drawn_as === 'points' &&
        chip(
          'average',
          'Average',
          <path d="M1 6H17" stroke="var(--sea)" strokeWidth={2.2} strokeLinecap="round" />,
        )}
      {kpi.drawn_as === 'points' &&
        chip(
          'limits',
          'Natural process limits',
          <>
            <rect x={1} y={1} width={16} height={10} fill="var(--mist)" />
            <path d="M1 1.500H17M1 10.500H17" stroke="var(--sea)" strokeDasharray="3 2" />
          </>,
        )}
      {target === null && kpi.target === null && (
        <button type="button" className={classes.chip} aria-pressed={false} onClick={onAddTarget}>
          Add a target
        </button>
      )}
      {target !== null &&
        chip(
          'target',
          `Target ${amountText(target, kpi.numbers)}`,
          <path d="M1 6H17" stroke="var(--target)" strokeWidth={1.8} strokeDasharray="6 2 2 2" />,
        )}
    </>
  )
}
