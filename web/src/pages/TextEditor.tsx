import { Button, Group, Modal, Textarea } from '@mantine/core'
import { useState } from 'react'
import panels from '../panels/Panels.module.css'
import Prose from '../panels/Prose.tsx'

/** Text of a page, written in Markdown, as it will read beside it. */
export default function TextEditor({
  text,
  onClose,
  onKeep,
}: {
  text: string
  onClose: () => void
  onKeep: (text: string) => void
}) {
  const [written, setWritten] = useState(text)
  return (
    <Modal
      opened
      onClose={onClose}
      title="Text"
      size="xl"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <Textarea
        data-autofocus
        autosize
        minRows={6}
        maxRows={14}
        aria-label="Text"
        description="Markdown: # heading, **strong**, *stressed*, - list, [link](https://…)"
        maxLength={20_000}
        value={written}
        onChange={(event) => setWritten(event.currentTarget.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey) && written.trim())
            onKeep(written)
        }}
      />
      <div className={panels.text} style={{ margin: '12px 0' }}>
        <Prose text={written} />
      </div>
      <Group justify="flex-end">
        <Button variant="default" onClick={onClose}>
          Leave it
        </Button>
        <Button disabled={!written.trim()} onClick={() => onKeep(written)}>
          Keep the text
        </Button>
      </Group>
    </Modal>
  )
}
