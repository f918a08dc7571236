import { lazy, Suspense } from 'react'
import { Filled } from '../Framed.tsx'
import type { Answers, BodyProps, Face } from '../face.ts'
import classes from '../Panels.module.css'

type Answer = Answers['text']

const Prose = lazy(() => import('../Prose.tsx'))

function Body({ answer }: BodyProps<Answer>) {
  return (
    <Filled className={classes.text}>
      <Suspense>
        <Prose text={answer.text} />
      </Suspense>
    </Filled>
  )
}

export const text: Face<Answer> = {
  noun: 'text',
  Body,
  Paper: null,
  written: true,
}
