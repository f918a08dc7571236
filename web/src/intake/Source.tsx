import { Button, Group, Text, Textarea } from '@mantine/core'
import { IconUpload } from '@tabler/icons-react'
import { type ClipboardEvent, useState } from 'react'
import type { LookedAtFeed } from '../feeds/feeds.ts'
import { WhereFrom } from '../feeds/WhereFrom.tsx'
import { TakeFile } from '../shared/TakeFile.tsx'
import classes from './Intake.module.css'

interface Props {
  workspace: string
  busy: boolean
  onTable: (table: { text?: string; file?: File }) => void
  /** A table was fetched from where it can be fetched again; null: no feed can be set up here. */
  onLooked: ((looked: LookedAtFeed) => void) | null
}

/** The suffixes of all formats that tables are read in. */
const KINDS =
  '.parquet,.zip,.xlsx,.xlsm,.xlsb,.ods,.json,.jsonl,.ndjson,.html,.htm,.csv,.tsv,.txt,text/*'

/** Where a table comes from: a paste, a drop, a file, or an address that is fetched again. */
export function Source({ workspace, busy, onTable, onLooked }: Props) {
  const [over, setOver] = useState(false)
  const [text, setText] = useState('')
  const [fetching, setFetching] = useState(false)

  function onPaste(event: ClipboardEvent<HTMLTextAreaElement>) {
    const { clipboardData } = event
    const file = clipboardData.files[0]
    const html = clipboardData.getData('text/html')
    const plain = clipboardData.getData('text/plain')
    // A spreadsheet gives its cells as text too; from a web page only the table itself will do.
    const table = plain.includes('\t') || !/<table/i.test(html) ? plain : html
    if (!file && !table.trim()) return
    event.preventDefault()
    setText(plain)
    onTable(file ? { file } : { text: table })
  }

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a third way; the button and the box are for the keyboard
    <div
      className={`${classes.source} ${classes.drop}`}
      data-over={over}
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault()
        setOver(false)
        const file = event.dataTransfer.files[0]
        if (file) onTable({ file })
      }}
    >
      <Textarea
        label="Paste the table here"
        description="From a spreadsheet, a web page, an export or a report; or drop a file on the box"
        rows={9}
        spellCheck={false}
        placeholder={'Week\tTurnaround (min)\n2026-01-05\t22.4\n2026-01-12\t20.6'}
        value={text}
        disabled={busy}
        onPaste={onPaste}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      <Group>
        <Button disabled={!text.trim()} loading={busy} onClick={() => onTable({ text })}>
          Read this table
        </Button>
        <TakeFile accept={KINDS} onTake={(file) => onTable({ file })}>
          {(props) => (
            <Button
              {...props}
              variant="default"
              disabled={busy}
              leftSection={<IconUpload size={16} aria-hidden />}
            >
              Upload a file
            </Button>
          )}
        </TakeFile>
        <Text size="sm" c="dimmed">
          CSV, XLSX, ODS, JSON, Parquet or a data package
        </Text>
      </Group>
      {onLooked && (
        <div>
          <button
            type="button"
            className={classes.link}
            aria-expanded={fetching}
            onClick={() => setFetching(!fetching)}
          >
            {fetching ? 'Not from an address' : 'Fetch it from an address, a database or a folder'}
          </button>
          {fetching && <WhereFrom workspace={workspace} onLooked={onLooked} />}
        </div>
      )}
    </div>
  )
}
