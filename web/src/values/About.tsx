import { ActionIcon, Menu } from '@mantine/core'
import { IconDots } from '@tabler/icons-react'
import type { May } from '../shared/may.ts'
import type { Value } from './values.ts'

interface Props {
  value: Value | undefined
  /** Its period, in words. */
  named: string
  may: May
  /** Whether a feed brings values of this KPI, which leaves what is typed. */
  fed: boolean
  onHistory: (value: Value) => void
  onAside: (value: Value) => void
  onPutBack: () => void
  onRemove: () => void
  onRelease: () => void
}

/** What stands in a row of the ledger beside the value: set aside or not, by whom, and what can be done. */
export function About(props: Props) {
  const { value, named, may, fed, onHistory, onAside, onPutBack, onRemove, onRelease } = props
  const wins = fed && value?.typed
  return (
    <>
      <div role="gridcell" title={value?.reason}>
        {value?.set_aside ? value.reason : ''}
      </div>
      <div role="gridcell" className="quiet" title={value?.act}>
        {value && written(value)}
        {wins && ', typed: the feed leaves it'}
      </div>
      <div role="gridcell">
        {value && (
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
