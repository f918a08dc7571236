import { Button, Loader, Select, Switch } from '@mantine/core'
import { useLocalStorage } from '@mantine/hooks'
import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { HairlineProvider } from '../chart/hairline.tsx'
import { dayTime, type Span } from '../chart/small/place.ts'
import { DatePicker } from '../shared/looking/DatePicker.tsx'
import { datesInAddress, useAddress } from '../shared/looking/useDates.ts'
import { Notice } from '../shared/Notice.tsx'
import { Pills } from '../shared/Pills.tsx'
import { counted } from '../shared/writing.ts'
import { Chosen } from './Chosen.tsx'
import classes from './Overview.module.css'
import { ORDERS, SHOWS, useOverview, wantedOf } from './overview.ts'
import { Strips } from './Strips.tsx'
import { Together } from './Together.tsx'

// Needed once, before there is anything to show.
const FirstHour = lazy(async () => ({
  default: (await import('../intake/FirstHour.tsx')).FirstHour,
}))
const Peek = lazy(async () => ({ default: (await import('./Peek.tsx')).Peek }))

/** All KPIs on one time axis: what changed, and whether it changed together. */
export function OverviewPage() {
  return (
    <HairlineProvider>
      <Overview />
    </HairlineProvider>
  )
}

function Overview() {
  const { workspace = '' } = useParams()
  const { address, dates, ask, askAll } = useAddress()
  const navigate = useNavigate()
  const wanted = wantedOf(address)
  const [first] = useOverview(workspace, wanted, [0])
  const [dense, setDense] = useLocalStorage({ key: 'fluctus-dense', defaultValue: false })
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [peeked, setPeeked] = useState<string | null>(null)
  const data = first?.data
  const domain = useMemo<Span | null>(
    () => (data?.first && data.last ? [dayTime(data.first), dayTime(data.last)] : null),
    [data?.first, data?.last],
  )
  useEffect(() => {
    document.title = 'Overview · Fluctus'
  }, [])
  const within = Number(address.get('together')) || null
  const choose = (slug: string) =>
    setChosen((before) =>
      before.includes(slug) ? before.filter((one) => one !== slug) : [...before, slug],
    )

  if (first?.error) return <Notice error={first.error} retry={first.refetch} />
  if (!data) return <Loader role="status" aria-label="Loading" />
  if (data.counts.all === 0)
    return (
      <Suspense fallback={<Loader role="status" aria-label="Loading" />}>
        <FirstHour />
      </Suspense>
    )
  return (
    <div className={peeked ? classes.peeking : ''}>
      <header className={classes.head}>
        <h1>Overview</h1>
        <span className="quiet">
          {counted(data.counts.all, 'KPI')}
          {data.newest_period && ` · newest data ${data.newest_period}`}
        </span>
        <Button component={Link} to={`/${workspace}/new`}>
          Add data
        </Button>
      </header>
      <p className={classes.sentence}>{data.sentence}</p>
      <div className={classes.tools}>
        <Pills
          legend="Which KPIs"
          options={SHOWS.map((one) => ({ ...one, count: data.counts[one.value] })).filter(
            ({ value, count }) => value === 'all' || value === wanted.shows || count > 0,
          )}
          pressed={(value) => value === wanted.shows}
          onPress={(value) => ask({ shows: value === 'all' ? null : value })}
        />
        <div>
          <Button
            size="compact-sm"
            variant="subtle"
            color="gray"
            c="var(--quiet)"
            aria-expanded={within !== null}
            onClick={() => ask({ together: within ? null : '7' })}
          >
            What fell together
          </Button>
          <DatePicker
            dates={dates}
            shown={data.first && data.last ? [data.first, data.last] : null}
            onChange={(next) => ask(datesInAddress(next))}
          />
          <Select
            size="xs"
            w={176}
            aria-label="Order"
            data={[...ORDERS]}
            value={wanted.order}
            allowDeselect={false}
            onChange={(value) => ask({ order: value === 'newest' ? null : value })}
          />
          <Switch
            size="xs"
            ml="xs"
            label="Dense"
            checked={dense}
            onChange={(event) => setDense(event.currentTarget.checked)}
          />
        </div>
      </div>
      {within && (
        <Together
          {...{ workspace, dates, within }}
          onWithin={(days) => ask({ together: String(days) })}
        />
      )}
      <div className={classes.body}>
        <div className={classes.main}>
          {data.count === 0 && data.groups.length === 0 && (
            <p>No KPI is like that now. Ask for more.</p>
          )}
          {domain && (
            <Strips
              {...{ workspace, wanted, domain, dense, chosen, peeked }}
              first={data}
              onChoose={choose}
              onPeek={setPeeked}
              onOpen={(slug) => navigate(`/${workspace}/charts/${slug}`)}
              onFold={(folded) => askAll('folded', folded)}
              onDates={(next) => ask(datesInAddress(next))}
              onByHand={() => ask({ order: 'hand' })}
            />
          )}
        </div>
        {peeked && (
          <Suspense>
            <Peek workspace={workspace} kpi={peeked} onClose={() => setPeeked(null)} />
          </Suspense>
        )}
      </div>
      {chosen.length > 0 && <Chosen {...{ workspace, chosen }} onNone={() => setChosen([])} />}
      <p className={classes.hint}>
        <kbd>↓</kbd> <kbd>↑</kbd> go through them, <kbd>←</kbd> <kbd>→</kbd> move the hairline,{' '}
        <kbd>Enter</kbd> opens one, <kbd>V</kbd> looks at it here, <kbd>S</kbd> chooses several,{' '}
        <kbd>Alt ↑</kbd> <kbd>Alt ↓</kbd> put them in an order of your own
      </p>
    </div>
  )
}
