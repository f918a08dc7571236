import { Button, Menu } from '@mantine/core'
import {
  IconCopy,
  IconDeviceDesktop,
  IconFileTypeCsv,
  IconFileTypePng,
  IconFileTypeSvg,
  IconPresentation,
} from '@tabler/icons-react'
import { Link } from 'react-router'
import { notifyProblem } from '../shared/notifications.tsx'

interface Props {
  /** What of the page is taken along: found when it is asked for. */
  find: () => HTMLElement | null
  /** The name of files. */
  name: string
  /** Where it is shown in a meeting; null where it cannot be. */
  meeting: string | null
  /** Where it hangs on a wall; left out where it does not. */
  wall?: string
}

/** The ways to take along what a screen shows: as a picture, as its tables, in a meeting. */
export function HandOverSeen({ find, name, meeting, wall }: Props) {
  async function take(act: (root: HTMLElement) => Promise<unknown>) {
    const root = find()
    if (!root) return
    try {
      await act(root)
    } catch (error) {
      notifyProblem(error instanceof Error ? error : new Error('It could not be made.'))
    }
  }
  const picture = () => import('./picture.ts')
  const copying = () => import('../shared/copying.ts')
  const tables = async (root: HTMLElement) => {
    const rows = (await picture()).tablesOf(root)
    if (rows.length === 0) throw new Error('There is no table here to take along.')
    return rows
  }
  const png = async (root: HTMLElement) => (await picture()).pngOf(root)
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button size="xs" variant="default">
          Hand over
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {meeting && (
          <>
            <Menu.Item component={Link} to={meeting} leftSection={<IconPresentation size={16} />}>
              Show in a meeting
            </Menu.Item>
            {wall && (
              <Menu.Item component={Link} to={wall} leftSection={<IconDeviceDesktop size={16} />}>
                Hang on a wall
              </Menu.Item>
            )}
            <Menu.Divider />
          </>
        )}
        <Menu.Item
          leftSection={<IconCopy size={16} />}
          onClick={() => take(async (root) => (await copying()).copyPicture(png(root)))}
        >
          Copy picture
        </Menu.Item>
        <Menu.Item
          leftSection={<IconCopy size={16} />}
          onClick={() => take(async (root) => (await copying()).copyRows(await tables(root)))}
        >
          Copy table
        </Menu.Item>
        <Menu.Divider />
        <Menu.Item
          leftSection={<IconFileTypeCsv size={16} />}
          onClick={() =>
            take(async (root) => {
              const { download } = await import('./export.ts')
              const csv = (await copying()).asCsv(await tables(root))
              download(new Blob([csv], { type: 'text/csv' }), `${name}.csv`)
            })
          }
        >
          Table as CSV
        </Menu.Item>
        <Menu.Item
          leftSection={<IconFileTypeSvg size={16} />}
          onClick={() => take(async (root) => (await picture()).savePicture(root, name, 'svg'))}
        >
          Picture as SVG
        </Menu.Item>
        <Menu.Item
          leftSection={<IconFileTypePng size={16} />}
          onClick={() => take(async (root) => (await picture()).savePicture(root, name, 'png'))}
        >
          Picture as PNG
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}
