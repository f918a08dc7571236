import { Alert, Button } from '@mantine/core'
import { IconAlertTriangle } from '@tabler/icons-react'
import { Notice } from '../shared/Notice.tsx'
import { useGoElsewhere } from '../shared/session.ts'

/** Says why signing in there came to nothing, the last time. */
export function Said({ children }: { children: string }) {
  return (
    <Alert
      color="signal"
      variant="outline"
      icon={<IconAlertTriangle aria-hidden />}
      role="alert"
      styles={{ root: { background: 'var(--card)' } }}
    >
      {children}
    </Alert>
  )
}

/** Leads to the provider, where somebody says who they are, and from there to where they wanted. */
export function ThroughProvider({
  name,
  to,
  secret = '',
  act = 'Sign in',
}: {
  name: string
  to: string
  secret?: string
  act?: string
}) {
  const go = useGoElsewhere()
  return (
    <>
      {go.error && <Notice error={go.error} />}
      <Button
        variant="default"
        fullWidth
        loading={go.isPending || go.isSuccess}
        onClick={() =>
          go.mutate(
            { to, secret },
            {
              onSuccess: ({ address }) => window.location.assign(address),
            },
          )
        }
      >
        {act} through {name}
      </Button>
    </>
  )
}
