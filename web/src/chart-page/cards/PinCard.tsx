import { Button, Stack, Text } from '@mantine/core'
import type { Pin } from '../../chart/layers/lane/Story.tsx'
import { days } from '../../shared/writing.ts'
import classes from '../ChartPage.module.css'

/** Events that share a pin, to choose one of them. */
export function PinCard({
  pin,
  onChoose,
}: {
  pin: Pin
  onChoose: (event: Pin['events'][number]) => void
}) {
  return (
    <Stack gap={4}>
      {pin.events.map((event) => (
        <button
          key={event.id}
          type="button"
          className={classes.show}
          style={{ textAlign: 'left' }}
          onClick={() => onChoose(event)}
        >
          {event.title} <span className="quiet">{days(event.first, event.last)}</span>
        </button>
      ))}
      {pin.count > pin.events.length && (
        <Text size="sm" c="dimmed">
          and {pin.count - pin.events.length} more: show fewer dates to tell them apart
        </Text>
      )}
    </Stack>
  )
}

/** What a candidate rests on, and the two ways to decide on it. */
export function CandidateCard({
  text,
  saving,
  onReview,
  onDismiss,
}: {
  text: string
  saving: boolean
  onReview: () => void
  onDismiss: (reason: string) => void
}) {
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        const reason = String(new FormData(event.currentTarget).get('reason') ?? '').trim()
        if (reason) onDismiss(reason)
      }}
    >
      <Stack gap="xs">
        <Text size="sm" fw={600}>
          Has the process shifted here?
        </Text>
        <Text size="sm">{text}</Text>
        <Button size="xs" color="run" onClick={onReview} data-autofocus>
          Review this shift
        </Button>
        <Text component="label" size="sm" htmlFor="no-shift">
          If it is none, say why
        </Text>
        <input id="no-shift" name="reason" maxLength={500} className={classes.input} required />
        <Button size="xs" variant="default" type="submit" loading={saving}>
          Not a shift
        </Button>
      </Stack>
    </form>
  )
}
