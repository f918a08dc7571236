import { ActionIcon, Button, Loader, Menu, Modal, Switch, TextInput } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { IconArrowBackUp, IconArrowForwardUp, IconDots } from '@tabler/icons-react'
import { lazy, type ReactNode, Suspense, useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { HandOverSeen } from '../chart/HandOverSeen.tsx'
import { HairlineProvider } from '../chart/hairline.tsx'
import { datesSent, sent } from '../panels/panels.ts'
import { DatePicker } from '../shared/looking/DatePicker.tsx'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { days } from '../shared/writing.ts'
import { PageHistory } from './PageHistory.tsx'
import classes from './Pages.module.css'
import { type PageDetail, usePage, usePageActs } from './pages.ts'
import { Sheet } from './Sheet.tsx'

const TextEditor = lazy(() => import('./TextEditor.tsx'))
const NewLink = lazy(async () => ({ default: (await import('../links/NewLink.tsx')).NewLink }))
const NewReport = lazy(async () => ({
  default: (await import('../reports/NewReport.tsx')).NewReport,
}))

/** A page: a titled sheet of panels, to read from top to bottom, or to arrange. */
export function SheetPage() {
  const { workspace = '', number = '' } = useParams()
  const page = usePage(workspace, Number(number))
  if (page.isPending) return <Loader role="status" aria-label="Loading" />
  if (page.error) return <Notice error={page.error} retry={page.refetch} />
  return (
    <HairlineProvider key={page.data.id}>
      <Arranged workspace={workspace} page={page.data} />
    </HairlineProvider>
  )
}

/** Long as one page: the tools of its head share what is arranged and what is undone. */
function Arranged({ workspace, page }: { workspace: string; page: PageDetail }) {
  const acts = usePageActs(workspace, page.id)
  const may = useMay()
  const navigate = useNavigate()
  const [arranging, setArranging] = useState(false)
  const [writing, setWriting] = useState<string | null>(null)
  const [history, showHistory] = useDisclosure()
  const [deleting, ask] = useDisclosure()
  const [reporting, report] = useDisclosure()
  const [linking, link] = useDisclosure()
  const { undo, redo } = page.history
  useEffect(() => {
    document.title = `${page.title} · Fluctus`
  }, [page.title])
  useHotkeys([
    ['mod+Z', () => may.edit && undo && acts.turn.mutate(true)],
    ['mod+shift+Z', () => may.edit && redo && acts.turn.mutate(false)],
    ['Escape', () => setArranging(false)],
  ])
  const written = page.panels.find(({ key }) => key === writing)
  // Who may not change the page looks at other dates for themselves.
  const [own, setOwn] = useState<DatesAsked | null>(null)
  const dates = own ?? (datesSent(page.dates) as DatesAsked)

  function keepText(text: string) {
    setWriting(null)
    if (written) {
      const panels = page.panels.map((panel) => (panel === written ? { ...panel, text } : panel))
      acts.change.mutate({ panels: panels.map(sent) })
    } else {
      const below = Math.max(0, ...page.panels.map(({ y, h }) => y + h))
      const place = { x: 0, y: below, w: 2, h: 3 }
      const panel = { key: `t${Date.now()}`, kind: 'text' as const, text, view: '', group: '' }
      acts.change.mutate({
        panels: [
          ...page.panels.map(sent),
          { ...panel, kpis: [], names: [], options: {}, dates: null, ...place },
        ],
      })
    }
  }

  return (
    <>
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
          onChange={(next) => (may.edit ? acts.change.mutate({ dates: next }) : setOwn(next))}
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
            <Button size="xs" variant="default" onClick={() => setWriting('')}>
              Add text
            </Button>
            <Button
              size="xs"
              variant={arranging ? 'filled' : 'default'}
              aria-pressed={arranging}
              onClick={() => setArranging(!arranging)}
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
            <Menu.Item onClick={report.open}>Report, slides…</Menu.Item>
            {may.edit && (
              <Menu.Item onClick={link.open}>Link for people without an account…</Menu.Item>
            )}
            <Menu.Item onClick={() => window.print()}>Print</Menu.Item>
            <Menu.Item onClick={showHistory.open}>History</Menu.Item>
            {may.own && <Menu.Item onClick={ask.open}>Delete the page…</Menu.Item>}
          </Menu.Dropdown>
        </Menu>
      </div>
      <article className={`${classes.sheet} ${arranging ? classes.arranging : ''}`}>
        <PageTitle
          key={page.title}
          title={page.title}
          arranging={arranging}
          onTitle={(title) => acts.change.mutate({ title })}
        />
        <p className={classes.dated}>{datesText(dates)}</p>
        {page.panels.length === 0 && (
          <p className={classes.empty}>
            Nothing is here yet. “Add to a page” at a chart, a comparison or the{' '}
            <Link to={`/${workspace}`}>overview</Link> puts it here; “Add text” writes beside it.
          </p>
        )}
        <Sheet
          {...{ workspace, page, arranging, dates }}
          onPanels={(panels) => acts.change.mutate({ panels: panels.map(sent) })}
          onWrite={setWriting}
        />
      </article>
      {writing !== null && (
        <Suspense>
          <TextEditor
            text={written?.text ?? ''}
            onClose={() => setWriting(null)}
            onKeep={keepText}
          />
        </Suspense>
      )}
      {linking && (
        <Suspense>
          <NewLink
            workspace={workspace}
            named={{ kind: 'page', page: page.id, title: page.title }}
            onClose={link.close}
          />
        </Suspense>
      )}
      {reporting && (
        <Suspense>
          <NewReport
            workspace={workspace}
            start={{ scope: 'page', page: page.id, title: page.title }}
            onClose={report.close}
          />
        </Suspense>
      )}
      {history && <PageHistory {...{ workspace }} number={page.id} onClose={showHistory.close} />}
      {deleting && (
        <DeletePage
          title={page.title}
          busy={acts.remove.isPending}
          onClose={ask.close}
          onDelete={() =>
            acts.remove.mutate(undefined, { onSuccess: () => navigate(`/${workspace}/pages`) })
          }
        />
      )}
    </>
  )
}

export function datesText({ first, last, weeks }: DatesAsked): string {
  if (first && last) return days(first, last)
  return weeks ? `Last ${weeks} weeks` : 'All dates'
}

function PageTitle({
  title,
  arranging,
  onTitle,
}: {
  title: string
  arranging: boolean
  onTitle: (title: string) => void
}) {
  const [text, setText] = useState(title)
  const keep = () => text.trim() && text.trim() !== title && onTitle(text.trim())
  if (!arranging) return <h1>{title}</h1>
  return (
    <TextInput
      className={classes.title ?? ''}
      variant="unstyled"
      aria-label="Title"
      maxLength={120}
      value={text}
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === 'Enter' && keep()}
    />
  )
}

function DeletePage({
  title,
  busy,
  onClose,
  onDelete,
}: {
  title: string
  busy: boolean
  onClose: () => void
  onDelete: () => void
}) {
  return (
    <Modal
      opened
      onClose={onClose}
      title="Delete the page"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <p>{title} goes, with its history. The charts that it shows stay. This cannot be undone.</p>
      <Button color="signal" loading={busy} onClick={onDelete}>
        Delete {title}
      </Button>
    </Modal>
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
