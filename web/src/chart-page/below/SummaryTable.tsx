import type { Schemas } from '../../api/client.ts'

/** Numbers of stretches of a chart, side by side. */
export function SummaryTable({ columns, rows, chance }: Schemas['Summaries']) {
  return (
    <>
      <table>
        <thead>
          <tr>
            <td />
            {columns.map(({ name, left_out }, n) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a column is known by its place
              <th key={n} scope="col" title={left_out}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, texts }) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              {texts.map((text, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a cell is known by its place
                <td key={n}>{text}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {chance.map((text, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a column is known by its place
        <p key={n} className="quiet">
          {chance.length > 1 && `${columns[n]?.name}: `}
          {text}
        </p>
      ))}
    </>
  )
}
