import { Alert, Button } from '@mantine/core'
import { Component, type ReactNode } from 'react'

/** Says that a screen could not be loaded, where it would be an empty page. */
export class Boundary extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false }

  static getDerivedStateFromError() {
    return { failed: true }
  }

  override render() {
    if (!this.state.failed) return this.props.children
    return (
      <Alert
        role="alert"
        variant="outline"
        color="signal"
        title="This screen could not be loaded."
        styles={{ root: { background: 'var(--card)' }, title: { color: 'var(--ink)' } }}
      >
        Check the connection, then try again. What you have saved is safe.
        <div>
          <Button mt="sm" size="xs" variant="default" onClick={() => window.location.reload()}>
            Try again
          </Button>
        </div>
      </Alert>
    )
  }
}
