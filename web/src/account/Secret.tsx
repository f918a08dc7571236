import { Button, CopyButton, Group } from '@mantine/core'

/** Something that is shown once, to be copied. */
export function Secret({ text, name }: { text: string; name: string }) {
  return (
    <Group gap="xs" wrap="nowrap" maw="100%">
      <code style={{ overflowWrap: 'anywhere' }}>{text}</code>
      <CopyButton value={text}>
        {({ copied, copy }) => (
          <Button size="compact-xs" variant="default" onClick={copy} style={{ flexShrink: 0 }}>
            {copied ? 'Copied' : `Copy ${name}`}
          </Button>
        )}
      </CopyButton>
    </Group>
  )
}
