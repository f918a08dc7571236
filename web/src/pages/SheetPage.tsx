import { Button, Loader, Modal, TextInput } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { lazy, Suspense, useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { HairlineProvider } from '../chart/hairline.tsx'
import { datesSent, sent } from '../panels/panels.ts'
import type { DatesAsked } from '../shared/looking/useDates.ts'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { days } from '../shared/writing.ts'
import { PageHistory } from './PageHistory.tsx'
import classes from './Pages.module.css'
import { type PageDetail, usePage, usePageActs } from './pages.ts'
import { Sheet } from './Sheet.tsx'
import { type Opens, Tools } from './Tools.tsx'

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

function Arranged({ workspace, page }: { workspace: string; page: PageDetail }) {
  const acts = usePageActs(workspace, page.id)
  const may = useMay()
  const navigate = useNavigate()
  const [arranging, setArranging] = useState(false)
  const [writing, setWriting] = useState<string | null>(null)
  const [opened, open] = useState<Opens | null>(null)
  const close = () => open(null)
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
  const [seen, setSeen] = useState<DatesAsked | null>(null)
  const dates = seen ?? (datesSent(page.dates) as DatesAsked)

  function keepText(text: string) {
    setWriting(null)
    if (written) {
      const panels = page.panels.map((panel) => (panel === written ? { ...panel, text } : panel))
      acts.change.mutate({ panels: panels.map(sent) })
    } else {
      const below = Math.max(0, ...page.panels.map(({ y, h }) => y + h))
      const cell = { x: 0, y: below, w: 2, h: 3 }
      const panel = { key: `t${Date.now()}`, kind: 'text' as const, text, view: '', group: '' }
      acts.change.mutate({
        panels: [
          ...page.panels.map(sent),
          { ...panel, kpis: [], names: [], options: {}, dates: null, ...cell },
        ],
      })
    }
  }

  return (
    <>
      <Tools
        {...{ workspace, page, acts, dates, arranging }}
        onDates={setSeen}
        onArrange={setArranging}
        onWrite={() => setWriting('')}
        onOpen={open}
      />
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
      {opened === 'link' && (
        <Suspense>
          <NewLink
            workspace={workspace}
            named={{ kind: 'page', page: page.id, title: page.title }}
            onClose={close}
          />
        </Suspense>
      )}
      {opened === 'report' && (
        <Suspense>
          <NewReport
            workspace={workspace}
            start={{ scope: 'page', page: page.id, title: page.title }}
            onClose={close}
          />
        </Suspense>
      )}
      {opened === 'history' && <PageHistory {...{ workspace }} number={page.id} onClose={close} />}
      {opened === 'delete' && (
        <DeletePage
          title={page.title}
          busy={acts.remove.isPending}
          onClose={close}
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
