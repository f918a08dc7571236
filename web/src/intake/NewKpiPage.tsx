import { Button, FileButton, Group, Text, Textarea, Title } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { IconUpload } from '@tabler/icons-react'
import { useEffect, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { Notice } from '../app/Notice.tsx'
import { ChartView } from '../chart/ChartView.tsx'
import { counted } from '../chart/format.ts'
import { DetailsForm } from './DetailsForm.tsx'
import { FoundTable } from './FoundTable.tsx'
import classes from './NewKpiPage.module.css'
import { Problems } from './Problems.tsx'
import { type Choices, type Details, type Table, useCreateKpi, useReading } from './table.ts'

const ALL_LINES = { average: true, limits: true, target: true }
const MOST_BYTES = 10 * 1024 * 1024

/** From a pasted or uploaded table to a KPI: what was understood, corrected, then saved. */
export function NewKpiPage() {
  const { workspace = '' } = useParams()
  const navigate = useNavigate()
  const [text, setText] = useState('')
  const [file, setFile] = useState<File | null>(null)
  const [number, setNumber] = useState(0)
  const [tooLarge, setTooLarge] = useState<string | null>(null)
  const [over, setOver] = useState(false)
  const [choices, setChoices] = useState<Choices>({
    time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  })
  const [details, setDetails] = useState<Details>({})
  const [settled] = useDebouncedValue(details, 300)
  const [settledText] = useDebouncedValue(text, 250)
  const table: Table | null =
    file || settledText.trim() ? { number, text: settledText, file } : null
  const reading = useReading(workspace, table, choices, settled)
  const create = useCreateKpi(workspace)
  const read = table && !reading.error ? reading.data : undefined

  useEffect(() => {
    document.title = 'New KPI · Fluctus'
  }, [])

  function take(next: { text?: string; file?: File | null }) {
    const chosen = next.file ?? null
    if (chosen && chosen.size > MOST_BYTES) {
      setTooLarge(chosen.name)
      return
    }
    setTooLarge(null)
    setFile(chosen)
    if (chosen) setNumber(number + 1)
    setText(next.text ?? '')
    // What was chosen for one table does not fit the next.
    setChoices({ time_zone: choices.time_zone })
    create.reset()
  }

  const name = details.name ?? read?.name ?? ''
  const ready = read !== undefined && read.value_count > 0 && name.trim() !== ''
  const blocked = read !== undefined && read.problem_count > 0 && !choices.leave_out

  return (
    <div className={classes.page}>
      <Title order={1} size={25} mb={4}>
        New KPI
      </Title>
      <Text c="dimmed" mb="md">
        Bring a table with a column of dates and one of values. Nothing is saved until you say so.
      </Text>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping a file is a third way; the button and the box are for the keyboard */}
      <div
        className={`${classes.start} ${classes.drop}`}
        data-over={over}
        onDragOver={(event) => {
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault()
          setOver(false)
          take({ file: event.dataTransfer.files[0] ?? null })
        }}
      >
        <Textarea
          label="Paste the table here"
          description="From a spreadsheet, an export or a report; or drop a file on the box"
          rows={read ? 4 : 9}
          spellCheck={false}
          placeholder={'Week\tTurnaround (min)\n2026-01-05\t22.4\n2026-01-12\t20.6'}
          value={file ? '' : text}
          disabled={file !== null}
          onChange={(event) => take({ text: event.currentTarget.value })}
        />
        <Group>
          <FileButton accept=".csv,.tsv,.txt,text/*" onChange={(chosen) => take({ file: chosen })}>
            {(props) => (
              <Button
                {...props}
                variant="default"
                leftSection={<IconUpload size={16} aria-hidden />}
              >
                Upload a CSV file
              </Button>
            )}
          </FileButton>
          {file && (
            <>
              <Text size="sm">{file.name}</Text>
              <Button variant="subtle" size="compact-sm" onClick={() => take({})}>
                Use another table
              </Button>
            </>
          )}
        </Group>
        {tooLarge && (
          <Text role="alert" size="sm" c="signal">
            {tooLarge} is larger than 10 MB. Split it, or leave out columns that are not needed.
          </Text>
        )}
      </div>
      {reading.error && table && (
        <div style={{ marginTop: 16, maxWidth: 760 }}>
          <Notice error={reading.error} />
        </div>
      )}
      {table && reading.isPending && (
        <Text role="status" mt="md" c="dimmed">
          Reading the table…
        </Text>
      )}
      {read && (
        <>
          <Title order={2} size={17} mt="lg" mb={6}>
            What was understood
          </Title>
          <FoundTable reading={read} choices={choices} onChange={setChoices} />
          <Problems reading={read} choices={choices} onChange={setChoices} />
          <div className={classes.split} style={{ marginTop: 16 }}>
            <DetailsForm
              reading={read}
              details={details}
              onChange={setDetails}
              saving={create.isPending}
              ready={ready && !blocked}
              why={
                blocked
                  ? `Correct or leave out the ${counted(read.problem_count, 'row')} above first.`
                  : null
              }
              error={create.error}
              onSave={() =>
                table &&
                create.mutate(
                  { table, choices, details: { ...proposed(read), ...details, name } },
                  { onSuccess: (made) => navigate(`/${workspace}/charts/${made.slug}`) },
                )
              }
            />
            <section aria-label="The chart it will make">
              {read.chart ? (
                <>
                  <Text fw={600}>{read.chart.sentence.headline}</Text>
                  <Text size="sm" c="dimmed" mb={4}>
                    {read.chart.sentence.detail}
                  </Text>
                  <ChartView chart={read.chart} shown={ALL_LINES} height={380} />
                </>
              ) : (
                <Text c="dimmed">No row has both a date and a value yet.</Text>
              )}
            </section>
          </div>
        </>
      )}
    </div>
  )
}

/** What is saved where the person has not chosen otherwise: what the form shows. */
function proposed(read: { unit: string; decimals: number }): Details {
  return { unit: read.unit, decimals: read.decimals }
}
