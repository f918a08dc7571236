import classes from './Pills.module.css'

interface Props<T extends string> {
  legend: string
  options: { value: T; label: string; count?: number | undefined }[]
  pressed: (value: T) => boolean
  onPress: (value: T) => void
}

/** A row of ways to narrow a list down, each with how much there is of it. */
export function Pills<T extends string>({ legend, options, pressed, onPress }: Props<T>) {
  return (
    <fieldset className={classes.pills}>
      <legend className="unseen">{legend}</legend>
      {options.map(({ value, label, count }) => (
        <button
          key={value}
          type="button"
          aria-pressed={pressed(value)}
          onClick={() => onPress(value)}
        >
          {label} {count?.toLocaleString('en-US') ?? ''}
        </button>
      ))}
    </fieldset>
  )
}
