// What is known in one place of the program and said on many screens: rules, constants, seasons.
import { useQuery } from '@tanstack/react-query'
import { answer, client, type Schemas } from './client.ts'
import { keys } from './keys.ts'

export type Vocabulary = Schemas['Vocabulary']

/** The ways in which several values become one, as a list to choose from. */
export function useAggregations(): { value: Schemas['Aggregation']; label: string }[] {
  return (useVocabulary()?.aggregations ?? []).map(({ id, name }) => ({ value: id, label: name }))
}

/** The vocabulary; undefined until it has come, which it does once. */
export function useVocabulary(): Vocabulary | undefined {
  return useQuery({
    queryKey: keys.vocabulary,
    queryFn: () => answer(client.GET('/api/v1/vocabulary')),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: Number.POSITIVE_INFINITY,
  }).data
}
