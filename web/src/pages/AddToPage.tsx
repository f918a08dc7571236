import { Button, Loader, Modal, NavLink, Popover, TextInput } from '@mantine/core'
import { IconFilePlus } from '@tabler/icons-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { NewPanel } from '../panels/panels.ts'
import { useMay } from '../shared/may.ts'
import { notifyUndoable } from '../shared/notifications.tsx'
import { useAddPanel, useNewPage, usePages } from './pages.ts'

interface Props {
  workspace: string
  /** What is put there; several become a panel each. */
  panels: NewPanel[]
  size?: 'xs' | 'sm' | 'compact-xs'
  variant?: string
}

/** Puts what is looked at on a page, in one act: one that there is, or a new one. */
export function AddToPage({ workspace, panels, size = 'sm', variant = 'default' }: Props) {
  const [opened, setOpened] = useState(false)
  const may = useMay()
  if (!may.edit) return null
  return (
    <Popover position="bottom-end" opened={opened} onChange={setOpened} trapFocus withRoles={false}>
      <Popover.Target>
        <Button
          size={size}
          variant={variant}
          leftSection={<IconFilePlus size={15} aria-hidden />}
          aria-expanded={opened}
          onClick={() => setOpened(!opened)}
        >
          Add to a page
        </Button>
      </Popover.Target>
      <Popover.Dropdown mah={380} p={6} style={{ overflowY: 'auto' }}>
        {opened && <PageChoices {...{ workspace, panels }} onDone={() => setOpened(false)} />}
      </Popover.Dropdown>
    </Popover>
  )
}

/** The pages that something can be put on, in a window of its own. */
export function AddToPageWindow({
  workspace,
  panels,
  onClose,
}: Pick<Props, 'workspace' | 'panels'> & { onClose: () => void }) {
  return (
    <Modal
      opened
      onClose={onClose}
      title="Add to a page"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <PageChoices {...{ workspace, panels }} onDone={onClose} />
    </Modal>
  )
}

function PageChoices({
  workspace,
  panels,
  onDone,
}: Pick<Props, 'workspace' | 'panels'> & { onDone: () => void }) {
  const pages = usePages(workspace)
  const create = useNewPage(workspace)
  const add = useAddPanel(workspace)
  const navigate = useNavigate()
  const [title, setTitle] = useState('')
  const added = (page: { id: number; title: string }) => {
    onDone()
    notifyUndoable(
      `It is on the page ${page.title}.`,
      () => navigate(`/${workspace}/pages/${page.id}`),
      'Open the page',
    )
  }
  async function addTo(number: number) {
    let page: { id: number; title: string } | null = null
    for (const panel of panels) {
      try {
        page = await add.mutateAsync({ number, panel })
      } catch {
        // It has been said why; the others may still be put there.
      }
    }
    if (page) added(page)
  }
  return (
    <>
      {pages.isPending && <Loader size="sm" m="sm" role="status" aria-label="Loading" />}
      {pages.data?.pages.map((page) => (
        <NavLink
          key={page.id}
          component="button"
          type="button"
          label={page.title}
          disabled={add.isPending}
          onClick={() => addTo(page.id)}
        />
      ))}
      <form
        style={{ display: 'flex', gap: 6, padding: 8 }}
        onSubmit={(event) => {
          event.preventDefault()
          if (title.trim()) create.mutate({ title: title.trim(), panels }, { onSuccess: added })
        }}
      >
        <TextInput
          size="xs"
          aria-label="Title of a new page"
          placeholder="Title of a new page"
          maxLength={120}
          value={title}
          onChange={(event) => setTitle(event.currentTarget.value)}
        />
        <Button size="xs" type="submit" disabled={!title.trim()} loading={create.isPending}>
          Make it
        </Button>
      </form>
    </>
  )
}
