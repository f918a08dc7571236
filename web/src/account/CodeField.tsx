import { TextInput } from '@mantine/core'

interface Props {
  code: string
  onChange: (code: string) => void
}

/** The code of one's device, or one of those kept for when it is not at hand. */
export function CodeField({ code, onChange }: Props) {
  return (
    <TextInput
      label="Code"
      description="The one that your device shows now, or a recovery code."
      autoComplete="one-time-code"
      autoCapitalize="none"
      spellCheck={false}
      required
      withAsterisk={false}
      data-autofocus
      autoFocus
      maxLength={40}
      value={code}
      onChange={(event) => onChange(event.currentTarget.value)}
    />
  )
}
