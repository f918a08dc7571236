// What waits for the person who is signed in, and who can be named.
import { useQuery } from '@tanstack/react-query'
import { answer, client } from '../api/client.ts'
import { keys } from '../api/keys.ts'

const base = '/api/v1/workspaces/{workspace}' as const

export function useForYou(workspace: string) {
  return useQuery({
    queryKey: keys.forYou(workspace),
    queryFn: () => answer(client.GET(`${base}/for-you`, { params: { path: { workspace } } })),
  })
}

/** The name that is being typed behind an @ at the end of a text; null where none is. */
export function nameBegun(text: string): string | null {
  return text.match(/(?:^|[^\w@])@([^@\n]{0,40})$/)?.[1] ?? null
}

/** A text with the name that was begun at its end written out. */
export const withName = (text: string, name: string) =>
  `${text.slice(0, text.lastIndexOf('@'))}@${name} `
