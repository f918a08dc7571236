import { ActionIcon, Menu } from '@mantine/core'
import { IconDots } from '@tabler/icons-react'
import { Link } from 'react-router'
import type { May } from '../shared/may.ts'
import type { Value } from './values.ts'

interface Props {
  value: Value | undefined
  /** Its period, in words. */
  named: string
  may: May
  /** Whether a feed brings values of this KPI, which leaves what is typed. */
  fed: boolean
  /** The address of its point on the chart. */
  onChart: string
  onHistory: (value: Value) => void
  onAside: (value: Value) => void
  onPutBack: () => void
  onRemove: () => void
  onRelease: () => void
}

/** What stands at the end of a row of the ledger: by whom it was written, and what can be done. */
export function About(props: Props) {
  const { value, named, may, fed, onChart, onHistory, onAside, onPutBack, onRemove, onRelease } =
    props
  const wins = fed && value?.typed
  return (
    <>
      <div role="gridcell" data-in="by" className="quiet" title={value?.act}>
        {value?.version != null && written(value)}
        {wins && ', typed: the feed leaves it'}
      </div>
      <div role="gridcell" data-in="more">
        {value?.version != null && (
          <Menu position="bottom-end">
            <Menu.Target>
              <ActionIcon
                variant="subtle"
                size="sm"
                aria-label={`More for ${named}${value.breakdown && `, ${value.breakdown}`}`}
              >
                <IconDots size={15} />
              </ActionIcon>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item component={Link} to={onChart}>
                Show on the chart
              </Menu.Item>
              <Menu.Item onClick={() => onHistory(value)}>History</Menu.Item>
              {!may.edit ? null : value.set_aside ? (
                <Menu.Item onClick={onPutBack}>Put back among the others</Menu.Item>
              ) : (
                <Menu.Item onClick={() => onAside(value)}>Set aside…</Menu.Item>
              )}
              {may.add && wins && (
                <Menu.Item onClick={onRelease}>Let the feed replace it</Menu.Item>
              )}
              {may.add && <Menu.Item onClick={onRemove}>Delete</Menu.Item>}
            </Menu.Dropdown>
          </Menu>
        )}
      </div>
    </>
  )
}

function written(value: Value): string {
  const at = new Date(value.at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
  return [value.author || 'came with the KPI', at].join(', ')
}
