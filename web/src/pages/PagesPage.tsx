import { Button, Loader, TextInput, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { Stretches } from '../shared/Stretches.tsx'
import { counted, moment } from '../shared/writing.ts'
import classes from './Pages.module.css'
import { useNewPage, usePages } from './pages.ts'

/** The pages that people have arranged for others. */
export function PagesPage() {
  const { workspace = '' } = useParams()
  const [start, setStart] = useState(0)
  const may = useMay()
  const pages = usePages(workspace, start)
  const create = useNewPage(workspace)
  const navigate = useNavigate()
  const [title, setTitle] = useState('')
  useEffect(() => {
    document.title = 'Pages · Fluctus'
  }, [])
  return (
    <>
      <Title order={1} size={25} mb="sm">
        Pages
      </Title>
      {may.edit && (
        <form
          className={classes.make}
          onSubmit={(event) => {
            event.preventDefault()
            if (!title.trim()) return
            create.mutate(
              { title: title.trim() },
              { onSuccess: ({ id }) => navigate(`/${workspace}/pages/${id}`) },
            )
          }}
        >
          <TextInput
            aria-label="Title of a new page"
            placeholder="Title of a new page"
            maxLength={120}
            value={title}
            onChange={(event) => setTitle(event.currentTarget.value)}
          />
          <Button type="submit" disabled={!title.trim()} loading={create.isPending}>
            Make a page
          </Button>
        </form>
      )}
      {pages.isPending && <Loader role="status" aria-label="Loading" />}
      {pages.error && <Notice error={pages.error} retry={pages.refetch} />}
      {pages.data?.count === 0 && (
        <p className="quiet">
          No pages yet. Give one a title here, or use “Add to a page” at a chart, a comparison, or
          the overview.
        </p>
      )}
      <ul className={classes.list} aria-label="Pages">
        {pages.data?.pages.map((page) => (
          <li key={page.id}>
            <Link to={`/${workspace}/pages/${page.id}`}>{page.title}</Link>
            <span className="quiet">
              {counted(page.panels, 'panel')} · {moment(page.changed_at)}
            </span>
          </li>
        ))}
      </ul>
      <Stretches
        {...{ start }}
        shown={pages.data?.pages.length ?? 0}
        count={pages.data?.count ?? 0}
        onStart={setStart}
      />
    </>
  )
}
