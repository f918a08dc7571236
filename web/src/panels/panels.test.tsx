// @vitest-environment jsdom
// What a panel leads to, and what is shown of one that has nothing to show.
import { cleanup, render, screen } from '@testing-library/react'
import { MemoryRouter } from 'react-router'
import { afterEach, describe, expect, it } from 'vitest'
import { addressOf } from './address.ts'
import type { Content, Panel } from './face.ts'
import { FACES } from './faces.ts'
import { PanelBody } from './PanelBody.tsx'

afterEach(cleanup)

const panel = (dates: Panel['dates'] = null) =>
  ({
    key: 'a',
    kind: 'number',
    kpis: ['ramp'],
    names: ['Ramp'],
    gone: [],
    dates,
  }) as unknown as Panel

const content = (more: Partial<Content>): Content => ({
  ...{ key: 'a', kind: 'number', title: 'Ramp: 20 s on average.', detail: 'Steady.', problem: '' },
  answer: { kpi: 'ramp', name: 'Ramp', text: '20 s', period: '5 Jan' },
  ...more,
})

const shown = (more: Partial<Content>, workspace: string) =>
  render(
    <MemoryRouter>
      <PanelBody
        content={content(more)}
        panel={panel()}
        {...{ workspace, dates: {}, axis: null, onReach: () => undefined }}
      />
    </MemoryRouter>,
  )

describe('a panel', () => {
  it('leads to the screen that shows the same, on its own dates, and from a link nowhere', () => {
    const at = { workspace: 'marrowick', panel: panel() }
    expect(addressOf(at, '/charts/ramp', { view: '' })).toBe('/marrowick/charts/ramp')
    expect(addressOf(at, '/compare/parts', { kpi: 'left', part: ['A', 'B & C'] })).toBe(
      '/marrowick/compare/parts?kpi=left&part=A&part=B+%26+C',
    )
    const own = { ...at, panel: panel({ first: '2026-01-05', last: '2026-02-01', weeks: null }) }
    expect(addressOf(own, '/charts/ramp')).toBe(
      '/marrowick/charts/ramp?first=2026-01-05&last=2026-02-01',
    )
    expect(addressOf({ workspace: '', panel: null }, '/charts/ramp')).toBeNull()
  })

  it('is a link within its workspace alone', () => {
    shown({}, 'marrowick')
    expect(screen.getByRole('link').getAttribute('href')).toBe('/marrowick/charts/ramp')
    cleanup()
    shown({}, '')
    expect(screen.queryByRole('link')).toBeNull()
    expect(screen.getByText('20 s')).toBeTruthy()
    expect(screen.getByText(/5 Jan\. Steady\./)).toBeTruthy()
  })

  it('says why it has nothing to show', () => {
    shown({ answer: null, title: 'Ramp is gone', problem: 'It has been deleted.' }, 'marrowick')
    expect(screen.getByRole('heading', { name: 'Ramp is gone' })).toBeTruthy()
    expect(screen.getByText('It has been deleted.')).toBeTruthy()
  })

  it('of every kind is drawn for paper, or else is read', () => {
    const read = Object.entries(FACES).filter(([, face]) => face.Paper === null)
    expect(read.map(([kind]) => kind)).toEqual(['text'])
  })
})
