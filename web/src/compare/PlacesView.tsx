import { Button, Group, Modal, Select, Textarea } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useState } from 'react'
import { Problem } from '../api/client.ts'
import { OnePlot } from '../chart/small/OnePlot.tsx'
import { useSize } from '../shared/looking/useSize.ts'
import { Notice } from '../shared/Notice.tsx'
import { notifyProblem } from '../shared/notifications.tsx'
import { TakeFile } from '../shared/TakeFile.tsx'
import { counted } from '../shared/writing.ts'
import classes from './Compare.module.css'
import {
  type Areas,
  domainOf,
  type Measure,
  type Parts,
  type PlacedParts,
  useAreas,
  usePlaceActs,
} from './compare.ts'
import { PlacesMap } from './PlacesMap.tsx'
import { StrongRow } from './StrongRow.tsx'
import { useStrong } from './useStrong.ts'

interface Props {
  workspace: string
  data: PlacedParts
  /** Its areas, where they have come with it; asked for otherwise. */
  areas?: Areas
  measure: Measure
  onMeasure: ((measure: Measure) => void) | null
  /** The charts of the parts, which the map lights and is lit by. */
  charts?: Parts | undefined
}

/** The parts of a KPI on a map, with a list that each lights the other of. */
export function PlacesView({ workspace, data, areas, measure, onMeasure, charts }: Props) {
  const asked = useAreas(workspace, areas ? '' : data.areas_file).data
  const { ref, width } = useSize()
  const strong = useStrong(data.parts.map(({ name }) => name))
  const [opened, saying] = useDisclosure()
  return (
    <>
      {onMeasure && (
        <div className={classes.asked}>
          <Select
            size="xs"
            w={200}
            aria-label="Measure"
            data={data.measures.map(({ name, label }) => ({ value: name, label }))}
            value={measure}
            allowDeselect={false}
            onChange={(value) => value && onMeasure(value as Measure)}
          />
          <Button size="xs" variant="default" onClick={saying.open}>
            Say where they are
          </Button>
          <AreasFile workspace={workspace} file={data.areas_file} />
        </div>
      )}
      <div className={onMeasure ? classes.beside : classes.stacked}>
        <div className={`card ${classes.plot}`}>
          <PlacesMap
            data={data}
            areas={areas ?? asked}
            strong={strong.strong}
            onStrong={strong.hover}
            height={onMeasure ? 440 : 280}
          />
        </div>
        <div className={`card ${classes.plot}`}>
          <table className={classes.table} onKeyDown={strong.onKey}>
            <caption className="unseen">{data.name} by place</caption>
            <tbody>
              {[...data.parts]
                .sort((one, other) => (other.value ?? 0) - (one.value ?? 0))
                .map((part) => (
                  <StrongRow key={part.name} name={part.name} strong={strong}>
                    <td>{part.text}</td>
                  </StrongRow>
                ))}
            </tbody>
          </table>
          <div ref={ref}>
            {charts && width > 0 && (
              <OnePlot
                label={`${data.name} by place, over time`}
                lines={charts.parts.map(({ name, chart }) => ({ key: name, name, chart }))}
                strong={strong.strong}
                onStrong={strong.bring}
                domain={domainOf(charts.dates)}
                width={width}
                height={240}
              />
            )}
          </div>
          {data.unplaced.length > 0 && (
            <p className={`quiet ${classes.rest}`}>
              Without a place: {data.unplaced.slice(0, 40).join(', ')}
              {data.unplaced.length > 40 && ` and ${data.unplaced.length - 40} more`}.
            </p>
          )}
        </div>
      </div>
      {onMeasure && <SayPlaces {...{ workspace, opened, data }} onClose={saying.close} />}
    </>
  )
}

/** Brings areas, or removes those that there are: what would be lost is asked about first. */
function AreasFile({ workspace, file }: { workspace: string; file: string }) {
  const { areas, removeAreas } = usePlaceActs(workspace)
  const [asked, setAsked] = useState<File | 'remove' | null>(null)
  const bring = (chosen: File) =>
    areas.mutate(chosen, {
      onSuccess: ({ names, matched }) =>
        notifications.show({
          message: `${counted(names.length, 'area')}; ${counted(matched.length, 'part')} named so.`,
        }),
      onError: notifyProblem,
    })
  function go() {
    if (asked instanceof File) bring(asked)
    else removeAreas.mutate(undefined, { onError: notifyProblem })
    setAsked(null)
  }
  return (
    <>
      <TakeFile
        accept=".geojson,.json,application/geo+json"
        onTake={(chosen) => (file ? setAsked(chosen) : bring(chosen))}
      >
        {(props) => (
          <Button size="xs" variant="default" loading={areas.isPending} {...props}>
            Bring areas (GeoJSON)
          </Button>
        )}
      </TakeFile>
      {file && (
        <Button size="xs" variant="subtle" onClick={() => setAsked('remove')}>
          Remove areas
        </Button>
      )}
      <Modal
        opened={asked !== null}
        onClose={() => setAsked(null)}
        title={asked === 'remove' ? 'Remove the areas' : 'Bring other areas'}
        closeButtonProps={{ 'aria-label': 'Close' }}
      >
        <p>The areas of {file} go. Bring the file again to have them back.</p>
        <Button onClick={go}>
          {asked instanceof File ? `Bring ${asked.name}` : `Remove ${file}`}
        </Button>
      </Modal>
    </>
  )
}

/** A table of names and coordinates, pasted. */
function SayPlaces({
  workspace,
  opened,
  onClose,
  data,
}: {
  workspace: string
  opened: boolean
  onClose: () => void
  data: PlacedParts
}) {
  const { places } = usePlaceActs(workspace)
  const [text, setText] = useState('')
  const start = ['name,latitude,longitude', ...data.unplaced.slice(0, 20).map((one) => `${one},,`)]
  const written = text || start.join('\n')
  const exchanged =
    places.error instanceof Problem && places.error.summary.includes('exchange them')
  const keep = (exchange: boolean) =>
    places.mutate({ text: written, exchange }, { onSuccess: onClose })
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title="Where the parts are"
      size="lg"
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
      <p className={classes.how}>
        Paste a table with a column of names and columns called latitude and longitude, in degrees.
      </p>
      <Textarea
        aria-label="Table of places"
        autosize
        minRows={8}
        maxRows={16}
        value={written}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      {places.error && <Notice error={places.error} />}
      <Group mt="sm" justify="flex-end">
        {exchanged && (
          <Button variant="default" onClick={() => keep(true)}>
            Exchange latitude and longitude
          </Button>
        )}
        <Button loading={places.isPending} onClick={() => keep(false)}>
          Keep these places
        </Button>
      </Group>
    </Modal>
  )
}
