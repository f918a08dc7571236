import { ActionIcon, Button, Menu, Switch } from '@mantine/core'
import { IconArrowBackUp, IconArrowForwardUp, IconDots } from '@tabler/icons-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { HandOverSeen } from '../chart/HandOverSeen.tsx'
import { DatePicker } from '../shared/looking/DatePicker.tsx'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { useMay } from '../shared/may.ts'
import classes from './Pages.module.css'
import type { PageDetail, usePageActs } from './pages.ts'

/** What opens over a page. */
export type Opens = 'history' | 'delete' | 'report' | 'link'

interface Props {
  workspace: string
  page: PageDetail
  acts: ReturnType<typeof usePageActs>
  dates: DatesAsked
  arranging: boolean
  /** Looks at other dates without changing the page. */
  onDates: (dates: DatesAsked) => void
  onArrange: (arranging: boolean) => void
  onWrite: () => void
  onOpen: (what: Opens) => void
}

/** What can be done with a page, above its sheet. */
export function Tools(props: Props) {
  const { workspace, page, acts, dates, arranging, onOpen } = props
  const { undo, redo } = page.history
  const may = useMay()
  return (
    <div className={classes.tools}>
      <span>
        <Link to={`/${workspace}/pages`}>Pages</Link>
      </span>
      {may.edit && (
        <>
          <Turn {...{ act: 'Undo', what: undo }} onTurn={() => acts.turn.mutate(true)}>
            <IconArrowBackUp size={17} />
          </Turn>
          <Turn {...{ act: 'Redo', what: redo }} onTurn={() => acts.turn.mutate(false)}>
            <IconArrowForwardUp size={17} />
          </Turn>
        </>
      )}
      <DatePicker
        dates={dates}
        shown={dates.first && dates.last ? [dates.first, dates.last] : null}
        onChange={(next) => (may.edit ? acts.change.mutate({ dates: next }) : props.onDates(next))}
      />
      {arranging && (
        <Switch
          size="xs"
          label="Equal axes"
          checked={page.equal_axes}
          onChange={(event) => acts.change.mutate({ equal_axes: event.currentTarget.checked })}
        />
      )}
      {may.edit && (
        <>
          <Button size="xs" variant="default" onClick={props.onWrite}>
            Add text
          </Button>
          <Button
            size="xs"
            variant={arranging ? 'filled' : 'default'}
            aria-pressed={arranging}
            onClick={() => props.onArrange(!arranging)}
          >
            {arranging ? 'Done' : 'Arrange'}
          </Button>
        </>
      )}
      <HandOverSeen
        find={() => document.querySelector('article')}
        name={`page-${page.id}`}
        meeting={`/${workspace}/meeting?page=${page.id}`}
        wall={`/${workspace}/wall?page=${page.id}`}
      />
      <Menu position="bottom-end">
        <Menu.Target>
          <ActionIcon variant="default" size={30} aria-label="More">
            <IconDots size={17} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => onOpen('report')}>Report, slides…</Menu.Item>
          {may.edit && (
            <Menu.Item onClick={() => onOpen('link')}>
              Link for people without an account…
            </Menu.Item>
          )}
          <Menu.Item onClick={() => window.print()}>Print</Menu.Item>
          <Menu.Item onClick={() => onOpen('history')}>History</Menu.Item>
          {may.own && <Menu.Item onClick={() => onOpen('delete')}>Delete the page…</Menu.Item>}
        </Menu.Dropdown>
      </Menu>
    </div>
  )
}

function Turn({
  act,
  what,
  onTurn,
  children,
}: {
  act: 'Undo' | 'Redo'
  what: string | null
  onTurn: () => void
  children: ReactNode
}) {
  return (
    <ActionIcon
      variant="default"
      size={30}
      title={what ? `${act}: ${what}` : `Nothing to ${act.toLowerCase()}`}
      aria-label={what ? `${act}: ${what}` : act}
      disabled={!what}
      onClick={onTurn}
    >
      {children}
    </ActionIcon>
  )
}
