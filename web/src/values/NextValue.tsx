import { Button, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState } from 'react'
import type { Chart } from '../chart/model/types.ts'
import classes from '../chart-page/ChartPage.module.css'
import type { KpiPath } from '../chart-page/data/chart.ts'
import { typingOf } from '../shared/typing.ts'
import { longPeriod } from '../shared/writing.ts'
import { useEditValues } from './values.ts'

interface Props {
  path: KpiPath
  chart: Chart
  breakdown: string | null
}

/** The value of the next period, by typing one number. */
export function NextValue({ path, chart, breakdown }: Props) {
  const [text, setText] = useState('')
  const edit = useEditValues(path)
  const { kpi, next } = chart
  if (!next) return null
  const typing = typingOf(kpi)
  const typed = typing.read(text)
  const wrong = typing.wrong(text)
  const name = longPeriod(next.period, kpi.grain)
  return (
    <form
      className={classes.next}
      onSubmit={(event) => {
        event.preventDefault()
        if (typed === null || wrong !== null) return
        edit.mutate([{ period: next.period, breakdown: breakdown ?? '', ...typed, seen: null }], {
          onSuccess: () => {
            setText('')
            notifications.show({ message: `${name}: saved. Ctrl Z takes it back.` })
          },
        })
      }}
    >
      <label htmlFor="next-value">
        {name}
        {breakdown && `, ${breakdown}`}
      </label>
      <TextInput
        id="next-value"
        size="xs"
        w={110}
        inputMode={kpi.aggregation === 'ratio' ? 'text' : 'decimal'}
        placeholder={
          kpi.aggregation === 'ratio' ? typing.hint : `next value${kpi.unit ? `, ${kpi.unit}` : ''}`
        }
        value={text}
        error={wrong}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      <Button
        type="submit"
        size="xs"
        variant="default"
        disabled={typed === null || wrong !== null}
        loading={edit.isPending}
      >
        Add value
      </Button>
    </form>
  )
}
