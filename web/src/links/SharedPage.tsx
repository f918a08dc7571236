import { Button, Loader, PasswordInput, Stack } from '@mantine/core'
import { lazy, Suspense, useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { Doorway } from '../account/Doorway.tsx'
import { Problem, type Schemas } from '../api/client.ts'
import reports from '../reports/Reports.module.css'
import { Logo } from '../shared/Logo.tsx'
import { Notice } from '../shared/Notice.tsx'
import { dayOf } from '../shared/writing.ts'
import { useKeyFor, useShared } from './links.ts'
import classes from './Shared.module.css'

const PanelBody = lazy(async () => ({
  default: (await import('../panels/PanelBody.tsx')).PanelBody,
}))
const NO_DATES = {}

/** What a link shows, to whoever has it. */
export function SharedPage() {
  const { secret = '' } = useParams()
  const [key, setKey] = useState('')
  const shared = useShared(secret, key)
  const opening = useKeyFor(secret)
  const [password, setPassword] = useState('')
  useEffect(() => {
    document.title = `${shared.data?.title ?? 'A link'} · Fluctus`
  }, [shared.data?.title])
  if (shared.isPending) return <Loader role="status" aria-label="Loading" />
  if (shared.error instanceof Problem && shared.error.status === 401)
    return (
      <Doorway title="A link with a password" under="Whoever sent it to you knows it.">
        <form
          onSubmit={(event) => {
            event.preventDefault()
            opening.mutate(password, { onSuccess: ({ key }) => setKey(key) })
          }}
        >
          <Stack gap="sm">
            {opening.error && <Notice error={opening.error} />}
            <PasswordInput
              label="Password"
              required
              withAsterisk={false}
              value={password}
              onChange={(event) => setPassword(event.currentTarget.value)}
            />
            <Button type="submit" loading={opening.isPending} disabled={!password}>
              Open it
            </Button>
          </Stack>
        </form>
      </Doorway>
    )
  if (shared.error)
    return (
      <Doorway title="A link" under="">
        <Notice error={shared.error} />
      </Doorway>
    )
  return <Shown secret={secret} linkKey={key} shared={shared.data} />
}

function Shown({
  secret,
  linkKey,
  shared,
}: {
  secret: string
  linkKey: string
  shared: Schemas['Shared']
}) {
  const query = linkKey ? `?key=${encodeURIComponent(linkKey)}` : ''
  const path = `/api/v1/shared/${secret}`
  return (
    <main className={classes.sheet}>
      <header className={classes.head}>
        <h1>{shared.title}</h1>
        <p className="quiet">
          {[
            shared.workspace,
            shared.frozen ? `as of ${dayOf(shared.made_at)}` : 'as it is now',
            shared.by && `from ${shared.by}`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </p>
      </header>
      {shared.things.map((content) => (
        <section key={content.key} className={classes.thing}>
          <Suspense fallback={<Loader role="status" aria-label="Loading" />}>
            <PanelBody
              content={content}
              panel={null}
              workspace=""
              dates={NO_DATES}
              axis={null}
              onReach={() => undefined}
            />
          </Suspense>
        </section>
      ))}
      {shared.kind === 'report' && (
        <>
          <Button component="a" href={`${path}/file${query}`} download>
            Take the {shared.file.toUpperCase()}
          </Button>
          <div className={`${reports.pages} ${reports.wide}`}>
            {Array.from({ length: shared.pages }, (_, n) => n + 1).map((page) => (
              <figure key={page} className={reports.page}>
                <img
                  src={`${path}/pages/${page}${query}`}
                  alt={`Page ${page} of ${shared.title}; its text is in the file`}
                  loading="lazy"
                />
                <figcaption>
                  {page} of {shared.pages}
                </figcaption>
              </figure>
            ))}
          </div>
        </>
      )}
      <footer className={classes.foot}>
        <Logo size={16} /> Made with Fluctus. This link shows this and nothing else.
      </footer>
    </main>
  )
}
