import { FileButton } from '@mantine/core'
import { type ComponentProps, useRef } from 'react'

interface Props {
  accept: string
  onTake: (file: File) => void
  children: ComponentProps<typeof FileButton>['children']
}

/** A button that takes a file; the same one again, too, as after it was put right. */
export function TakeFile({ accept, onTake, children }: Props) {
  const reset = useRef<() => void>(null)
  return (
    <FileButton
      accept={accept}
      resetRef={reset}
      onChange={(file) => {
        if (file) onTake(file)
        reset.current?.()
      }}
    >
      {children}
    </FileButton>
  )
}
