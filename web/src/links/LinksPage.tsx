import { Button, Group, Loader, Table, TagsInput, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted, dayOf, moment } from '../shared/writing.ts'
import { useLinkActs, useLinks } from './links.ts'

const KINDS = { chart: 'Chart', page: 'Page', report: 'Report' }

/** The links that were handed out, and which sites may show them. */
export function LinksPage() {
  const { workspace = '' } = useParams()
  const may = useMay()
  const links = useLinks(workspace)
  const { revoke } = useLinkActs(workspace)
  useEffect(() => {
    document.title = 'Links · Fluctus'
  }, [])
  return (
    <>
      <Title order={1} size={25} mb={4}>
        Links
      </Title>
      <p className="quiet">
        Each shows one thing to whoever has its address, without an account. They are made under
        “Hand over” at a chart, and at a page or a report.
      </p>
      {links.isPending && <Loader role="status" aria-label="Loading" />}
      {links.error && <Notice error={links.error} retry={links.refetch} />}
      {links.data?.links.length === 0 && <p>No links yet.</p>}
      {links.data && links.data.links.length > 0 && (
        <Table.ScrollContainer minWidth={720}>
          <Table fz={13} verticalSpacing={6} aria-label="Links">
            <Table.Thead>
              <Table.Tr>
                <Table.Th>Shows</Table.Th>
                <Table.Th>How</Table.Th>
                <Table.Th>Made by</Table.Th>
                <Table.Th>Opens</Table.Th>
                <Table.Th>Opened</Table.Th>
                <Table.Th>
                  <span className="unseen">What can be done</span>
                </Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {links.data.links.map((link) => (
                <Table.Tr key={link.id}>
                  <Table.Td>
                    {KINDS[link.kind]}: {link.title}
                  </Table.Td>
                  <Table.Td>
                    {[
                      link.frozen ? 'as it was' : 'live',
                      link.has_password && 'password',
                      link.embeddable && 'in frames',
                    ]
                      .filter(Boolean)
                      .join(', ')}
                  </Table.Td>
                  <Table.Td>
                    {link.person}, {moment(link.made_at)}
                  </Table.Td>
                  <Table.Td>
                    {link.status === 'open'
                      ? link.expires
                        ? `until ${dayOf(link.expires)}`
                        : 'until revoked'
                      : link.status}
                  </Table.Td>
                  <Table.Td>
                    {link.opened === 0
                      ? 'not yet'
                      : `${counted(link.opened, 'time')}, last ${moment(link.opened_at ?? '')}`}
                  </Table.Td>
                  <Table.Td>
                    {link.status !== 'revoked' && (
                      <Button
                        size="compact-xs"
                        variant="subtle"
                        aria-label={`Revoke the link to ${link.title}`}
                        onClick={() => revoke.mutate(link.id)}
                      >
                        Revoke
                      </Button>
                    )}
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      {may.own && links.data && (
        <FramesForm
          key={links.data.frames.join(' ')}
          {...{ workspace }}
          listed={links.data.frames}
        />
      )}
    </>
  )
}

function FramesForm({ workspace, listed }: { workspace: string; listed: string[] }) {
  const { frames } = useLinkActs(workspace)
  const [origins, setOrigins] = useState(listed)
  return (
    <form
      aria-label="Sites that may show links"
      onSubmit={(event) => {
        event.preventDefault()
        frames.mutate(origins)
      }}
    >
      <Title order={2} size={17} mt="xl" mb={4}>
        Frames
      </Title>
      {frames.error && <Notice error={frames.error} />}
      <Group align="end" gap="xs">
        <TagsInput
          label="Sites that may show links in a frame"
          placeholder="https://intranet.marrowick.example"
          w={460}
          value={origins}
          onChange={setOrigins}
        />
        <Button
          type="submit"
          variant="default"
          loading={frames.isPending}
          disabled={origins.join(' ') === listed.join(' ')}
        >
          Keep the list
        </Button>
      </Group>
    </form>
  )
}
