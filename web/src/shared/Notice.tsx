import { Alert, Button, List, Text } from '@mantine/core'
import { IconAlertTriangle } from '@tabler/icons-react'
import { Problem } from '../api/client.ts'

/** Says what went wrong, where, and what to do about it. */
export function Notice({ error, retry }: { error: unknown; retry?: () => void }) {
  const problem = error instanceof Problem ? error : null
  return (
    <Alert
      color="signal"
      variant="outline"
      icon={<IconAlertTriangle aria-hidden />}
      title={problem?.message ?? 'Something went wrong in this page.'}
      role="alert"
      styles={{ root: { background: 'var(--card)' }, title: { color: 'var(--ink)' } }}
    >
      {problem && problem.issues.length > 0 && (
        <List size="sm" spacing={4}>
          {problem.issues.slice(0, 20).map((issue) => (
            <List.Item key={`${issue.row} ${issue.field} ${issue.detail}`}>
              {issue.row !== null && (
                <b>
                  Row {issue.row}
                  {issue.column && `, ${issue.column}`}:{' '}
                </b>
              )}
              {issue.found && <>“{issue.found}” </>}
              {issue.detail} {issue.remedy}
            </List.Item>
          ))}
        </List>
      )}
      {problem?.number && (
        <Text size="sm" c="dimmed" mt={4}>
          {problem.number}
        </Text>
      )}
      {!problem && <Text size="sm">Reload the page; if it stays, tell whoever runs Fluctus.</Text>}
      {retry && (
        <Button mt="sm" size="xs" variant="default" onClick={retry}>
          Try again
        </Button>
      )}
    </Alert>
  )
}
