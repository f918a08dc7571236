import type { ComponentType } from 'react'
import { Framed } from './Framed.tsx'
import type { BodyProps } from './face.ts'
import { FACES } from './faces.ts'
import classes from './Panels.module.css'

/** What a panel shows: a title that is a sentence, and the picture below it. */
export function PanelBody(props: Omit<BodyProps<unknown>, 'answer'>) {
  const { content } = props
  if (content.answer === null)
    return (
      <Framed title={content.title}>
        <p className={classes.detail}>{content.problem}</p>
      </Framed>
    )
  const Body = FACES[content.kind].Body as ComponentType<BodyProps<unknown>>
  return <Body {...props} answer={content.answer} />
}
