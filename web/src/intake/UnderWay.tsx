import { Button, Group, Progress, Text, Title } from '@mantine/core'
import { Link } from 'react-router'
import { Problem } from '../api/client.ts'
import { Notice } from '../shared/Notice.tsx'
import { counted } from '../shared/writing.ts'
import { isUnderWay, useImport, useImportActs } from './imports.ts'

/** A long import on its way: how far it is, and how to stop it. It goes on without this page. */
export function UnderWay({
  workspace,
  number,
  title,
}: {
  workspace: string
  number: number
  title: string
}) {
  const underWay = useImport(workspace, number)
  const acts = useImportActs(workspace)
  const { data } = underWay
  return (
    <>
      <Title order={1} size={25} mb="sm">
        {title}
      </Title>
      {underWay.error && <Notice error={underWay.error} retry={underWay.refetch} />}
      {data && isUnderWay(data) && (
        <>
          <Text mb={6} role="status">
            {data.stage || 'Waiting for its turn'}…
          </Text>
          <Progress
            value={Math.max(3, data.progress * 100)}
            maw={520}
            animated
            aria-label="How far the import is"
          />
          <Text size="sm" c="dimmed" mt={6}>
            You can leave this page; the import goes on, and is there whole or not at all.
          </Text>
          <Button mt="md" variant="default" onClick={() => acts.cancel.mutate(number)}>
            Cancel the import
          </Button>
        </>
      )}
      {data?.status === 'done' && (
        <>
          <Text mb="md" role="status">
            Done:{' '}
            {data.parts
              .map((part) => `${part.name}, ${counted(part.counts.new, 'new value')}`)
              .join('; ')}
            .
          </Text>
          <Group>
            {data.parts.map(
              (part) =>
                part.slug && (
                  <Button key={part.slug} component={Link} to={`/${workspace}/charts/${part.slug}`}>
                    Open {part.name}
                  </Button>
                ),
            )}
          </Group>
        </>
      )}
      {data?.status === 'cancelled' && <Text role="status">Cancelled; nothing was saved.</Text>}
      {data?.status === 'failed' && data.problem && (
        <Notice error={new Problem(422, data.problem.title, data.problem.issues)} />
      )}
      {data && !isUnderWay(data) && (
        <Button mt="md" variant="default" component={Link} to={`/${workspace}/data`}>
          All imports
        </Button>
      )}
    </>
  )
}
