import { PasswordInput, TextInput } from '@mantine/core'

interface Typed {
  name: string
  password: string
}

interface Props extends Typed {
  onChange: (typed: Typed) => void
  /** Whether the focus begins at the password: the name is known. */
  toPassword?: boolean
}

/** What one signs in with. */
export function NameAndPassword({ name, password, onChange, toPassword = false }: Props) {
  return (
    <>
      <TextInput
        label="Name"
        autoComplete="username"
        required
        withAsterisk={false}
        value={name}
        onChange={(event) => onChange({ name: event.currentTarget.value, password })}
      />
      <PasswordInput
        label="Password"
        autoComplete="current-password"
        required
        withAsterisk={false}
        data-autofocus={toPassword || undefined}
        value={password}
        onChange={(event) => onChange({ name, password: event.currentTarget.value })}
      />
    </>
  )
}
