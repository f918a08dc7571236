import { TextInput } from '@mantine/core'

interface Props {
  code: string
  /** Whether it is the device's alone, since there are no others yet. */
  first?: boolean
  onChange: (code: string) => void
}

/** The code of one's device, or one of those kept for when it is not at hand. */
export function CodeField({ code, first = false, onChange }: Props) {
  return (
    <TextInput
      label="Code"
      description={first ? null : 'The one that your device shows now, or a recovery code.'}
      inputMode={first ? 'numeric' : 'text'}
      autoComplete="one-time-code"
      autoCapitalize="none"
      spellCheck={false}
      required
      withAsterisk={false}
      data-autofocus
      autoFocus
      maxLength={first ? 10 : 40}
      value={code}
      onChange={(event) => onChange(event.currentTarget.value)}
    />
  )
}
