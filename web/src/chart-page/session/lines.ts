import { ALL_SHOWN, type Shown } from '../../chart/model/types.ts'

/** Which lines of a chart are shown: a person's own choice, kept in the browser. */
export const shownLines: { key: string; defaultValue: Shown } = {
  key: 'fluctus-lines',
  defaultValue: ALL_SHOWN,
}
