import { Button } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { lazy, Suspense } from 'react'
import type { KpiPath } from '../../api/keys.ts'
import classes from './Contributions.module.css'
import type { Asked } from './contributions.ts'

// A chart is there before anybody asks.
const Told = lazy(async () => ({ default: (await import('./Told.tsx')).Told }))

interface Props {
  path: KpiPath
  asked: Asked
}

/** What made a value, asked for with a press: a sentence, and bars that add up. */
export function WhatMadeIt({ path, asked }: Props) {
  const [shown, { toggle }] = useDisclosure()
  return (
    <div className={classes.what}>
      <Button size="compact-sm" variant="light" aria-expanded={shown} onClick={toggle}>
        What made it
      </Button>
      {shown && (
        <Suspense>
          <Told path={path} asked={asked} />
        </Suspense>
      )}
    </div>
  )
}
