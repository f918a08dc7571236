import { Menu } from '@mantine/core'
import { IconCheck, IconSelector } from '@tabler/icons-react'
import { useEffect } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { useNews } from '../findings/findings.ts'
import { counted } from '../shared/writing.ts'
import { keepHome } from './home.ts'
import classes from './Rail.module.css'

interface Props {
  session: Schemas['Session']
  workspace: string
}

/** Where one is; who belongs to several workspaces goes to another one from here, and sees which have news. */
export function Workspaces({ session, workspace }: Props) {
  const { workspaces } = session
  const several = workspaces.length > 1
  const news = useNews(several).data ?? []
  const name = workspaces.find(({ slug }) => slug === workspace)?.name ?? workspace
  useEffect(() => keepHome(workspace), [workspace])
  if (!several) return <div className={classes.workspace}>{name}</div>
  const newIn = (slug: string) => news.find((one) => one.workspace === slug)?.new ?? 0
  const elsewhere = news.some((one) => one.workspace !== workspace)
  return (
    <Menu position="bottom-start" width={290}>
      <Menu.Target>
        <button
          type="button"
          className={classes.workspace}
          aria-label={`${name}: other workspaces`}
        >
          <span>{name}</span>
          <IconSelector size={14} aria-hidden />
          {elsewhere && (
            <span className={classes.news} title="Something is new in another workspace">
              <span className="unseen">Something is new in another workspace</span>
            </span>
          )}
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {workspaces.map(({ slug, name }) => (
          <Menu.Item
            key={slug}
            component={Link}
            to={`/${slug}`}
            aria-current={slug === workspace ? 'true' : undefined}
            leftSection={
              slug === workspace ? (
                <IconCheck size={15} aria-hidden />
              ) : (
                <span style={{ width: 15 }} />
              )
            }
            rightSection={
              newIn(slug) > 0 && (
                <span className="quiet">{counted(newIn(slug), 'new finding')}</span>
              )
            }
          >
            {name}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  )
}
