import { Text, Title } from '@mantine/core'
import type { ReactNode } from 'react'
import { Logo } from '../shared/Logo.tsx'
import { useSession } from '../shared/session.ts'
import classes from './SignIn.module.css'

/** The frame of what is seen before anybody is in: signing in, joining, a new password. */
export function Doorway({
  title,
  under,
  children,
}: {
  title: string
  under: string
  children: ReactNode
}) {
  // It brings what a write needs, to whoever comes here first.
  useSession()
  return (
    <main className={classes.page}>
      <div className={classes.brand}>
        <Logo size={44} />
        <span>Fluctus</span>
      </div>
      <div className={`card ${classes.box}`}>
        <Title order={1} size={25}>
          {title}
        </Title>
        <Text c="dimmed" mb="md">
          {under}
        </Text>
        {children}
      </div>
    </main>
  )
}
