import { Button, Center, Stack, Text, Title } from '@mantine/core'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { useSignOut } from './session.ts'

function Message({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Center mih="60vh" p="md">
      <Stack maw={460} align="flex-start">
        <Title order={1} size={25}>
          {title}
        </Title>
        {children}
      </Stack>
    </Center>
  )
}

export function NoWorkspace() {
  const signOut = useSignOut()
  return (
    <Message title="You belong to no workspace">
      <Text>Ask whoever runs Fluctus for you to add you to one, then sign in again.</Text>
      <Button variant="default" onClick={() => signOut.mutate()}>
        Sign out
      </Button>
    </Message>
  )
}

export function Nowhere() {
  return (
    <Message title="There is nothing at this address">
      <Text>The link may be old. Choose a KPI on the left, or go to the start.</Text>
      <Button component={Link} to="/" variant="default">
        Go to the start
      </Button>
    </Message>
  )
}
