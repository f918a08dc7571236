import { Button, Group } from '@mantine/core'
import { useVocabulary } from '../api/vocabulary.ts'

interface Props {
  start: number
  /** How many rows show, of how many in all. */
  shown: number
  count: number
  onStart: (start: number) => void
}

/** Which stretch of a long list shows, and the ones beside it. */
export function Stretches({ start, shown, count, onStart }: Props) {
  const atOnce = useVocabulary()?.list_page
  if (atOnce === undefined || count <= atOnce) return null
  return (
    <Group mt="sm" gap="xs">
      <Button
        size="xs"
        variant="default"
        disabled={start === 0}
        onClick={() => onStart(Math.max(0, start - atOnce))}
      >
        Newer
      </Button>
      <span className="quiet">
        {start + 1} to {start + shown} of {count.toLocaleString('en-US')}
      </span>
      <Button
        size="xs"
        variant="default"
        disabled={start + shown >= count}
        onClick={() => onStart(start + atOnce)}
      >
        Older
      </Button>
    </Group>
  )
}
