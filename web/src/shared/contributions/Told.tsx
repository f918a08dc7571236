import { SegmentedControl, Skeleton } from '@mantine/core'
import { useState } from 'react'
import type { KpiPath } from '../../api/keys.ts'
import { Notice } from '../Notice.tsx'
import { Bars } from './Bars.tsx'
import classes from './Contributions.module.css'
import { type Asked, type SharedOut, useContributions } from './contributions.ts'

const BY: Record<SharedOut['by'], string> = {
  parts: 'By part',
  numbers: 'By number',
  sources: 'By source',
}

/** A difference shared out: a sentence, bars that add up, and how that is made. */
export function Told({ path, asked }: { path: KpiPath; asked: Asked }) {
  const found = useContributions(path, asked)
  const [chosen, setChosen] = useState<SharedOut['by'] | null>(null)
  if (found.error) return <Notice error={found.error} retry={found.refetch} />
  if (!found.data) return <Skeleton height={120} mt={8} aria-label="Looking at the parts" />
  const { shared_out, says, how, label, than, numbers } = found.data
  const way = shared_out.find(({ by }) => by === chosen) ?? shared_out[0]
  if (!way) return <p>{says}</p>
  return (
    <section className={classes.told} aria-label={`What made ${label}`}>
      <p className={classes.says}>{way.says}</p>
      {shared_out.length > 1 && (
        <SegmentedControl
          size="xs"
          aria-label="Shared out"
          value={way.by}
          onChange={(by) => setChosen(by as SharedOut['by'])}
          data={shared_out.map(({ by }) => ({ value: by, label: BY[by] }))}
        />
      )}
      <Bars way={way} label={label} than={than} numbers={numbers} />
      <details className={classes.how}>
        <summary>How this is made</summary>
        <p>{how}</p>
      </details>
    </section>
  )
}
