import { Component, type ReactNode } from 'react'

/** Says that a screen could not be loaded, where it would be an empty page. */
export class Boundary extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false }

  static getDerivedStateFromError() {
    return { failed: true }
  }

  override render() {
    if (!this.state.failed) return this.props.children
    // Plain, since what draws more may be what did not come.
    return (
      <div role="alert" className="card" style={{ padding: 16 }}>
        <b>This screen could not be loaded.</b>
        <p>Check the connection; what you have saved is safe.</p>
        <button type="button" onClick={() => window.location.reload()}>
          Try again
        </button>
      </div>
    )
  }
}
