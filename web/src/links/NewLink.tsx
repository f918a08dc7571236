import { Button, Checkbox, Group, Modal, PasswordInput, Select, Stack } from '@mantine/core'
import { useState } from 'react'
import { Secret } from '../account/Secret.tsx'
import type { Schemas } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import { type LinkKind, useLinkActs } from './links.ts'

export interface Named {
  kind: LinkKind
  title: string
  kpi?: string
  view?: string
  page?: number
  report?: number
}

type Extra = Schemas['Extra']
const EXTRAS: [Extra, string][] = [
  ['notes', 'notes at values'],
  ['reasons', 'reasons for shifts, and why values are set aside'],
  ['events', 'events that are told with it'],
  ['everywhere', 'events that are told with all KPIs'],
]

/** Makes a link to one thing; its address is shown once. */
export function NewLink({
  workspace,
  named,
  onClose,
}: {
  workspace: string
  named: Named
  onClose: () => void
}) {
  const { make } = useLinkActs(workspace)
  const [days, setDays] = useState('30')
  const [password, setPassword] = useState('')
  const [flags, setFlags] = useState({ frozen: false, embeddable: false, names: false })
  const [shows, setShows] = useState<Extra[]>(['notes', 'reasons', 'events'])
  const { title, ...what } = named
  return (
    <Modal
      opened
      onClose={onClose}
      title={`A link to ${title}`}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      {make.data ? (
        <Stack gap="sm">
          <p role="status" style={{ margin: 0 }}>
            Whoever has this address sees {title}, and nothing else. It is shown this once.
          </p>
          <Secret text={make.data.address} name="the address" />
          <Group>
            <Button onClick={onClose}>Done</Button>
          </Group>
        </Stack>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            make.mutate({
              ...what,
              view: what.view ?? '',
              ...flags,
              shows,
              password,
              days: days ? Number(days) : null,
            })
          }}
        >
          <Stack gap="sm">
            {make.error && <Notice error={make.error} />}
            <Select
              label="It opens"
              allowDeselect={false}
              data={[
                { value: '7', label: 'For 7 days' },
                { value: '30', label: 'For 30 days' },
                { value: '365', label: 'For a year' },
                { value: '', label: 'Until it is revoked' },
              ]}
              value={days}
              onChange={(value) => setDays(value ?? '')}
            />
            <PasswordInput
              label="Password, if it is to ask for one"
              autoComplete="new-password"
              value={password}
              onChange={(event) => setPassword(event.currentTarget.value)}
            />
            {what.kind !== 'report' && (
              <Checkbox
                label="Keep showing what there is today, whatever comes"
                checked={flags.frozen}
                onChange={(event) => setFlags({ ...flags, frozen: event.currentTarget.checked })}
              />
            )}
            {what.kind !== 'report' && (
              <Checkbox.Group
                label="Beside values and limits it shows"
                value={shows}
                onChange={(chosen) => setShows(chosen as Extra[])}
              >
                <Stack gap={6} mt={6}>
                  {EXTRAS.map(([value, label]) => (
                    <Checkbox key={value} value={value} label={label} />
                  ))}
                </Stack>
              </Checkbox.Group>
            )}
            <Checkbox
              label="Sites that an owner lists may show it in a frame"
              checked={flags.embeddable}
              onChange={(event) => setFlags({ ...flags, embeddable: event.currentTarget.checked })}
            />
            <Checkbox
              label="Say who made it"
              checked={flags.names}
              onChange={(event) => setFlags({ ...flags, names: event.currentTarget.checked })}
            />
            <Group>
              <Button type="submit" loading={make.isPending}>
                Make the link
              </Button>
            </Group>
          </Stack>
        </form>
      )}
    </Modal>
  )
}
