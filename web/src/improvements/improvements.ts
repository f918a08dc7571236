// Improvements: what was done, what it is to move, and what came of it as the server computes it.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, client, type Schemas } from '../api/client.ts'
import { keys, renew } from '../api/keys.ts'
import { notifyProblem, notifyUndoable } from '../shared/notifications.tsx'

export type Improvement = Schemas['Improvement']
export type Aim = Schemas['Aim']
export type AimDraft = Schemas['AimRequest']

const base = '/api/v1/workspaces/{workspace}/improvements' as const

/** An improvement as it is written: a new one has no number. */
export interface Draft {
  id: number | null
  version: number
  name: string
  text: string
  owner: string | null
  began: string
  aims: AimDraft[]
  finding: number | null
  event: number | null
  shift: string
}

export const NEW_AIM: Omit<AimDraft, 'kpi'> = {
  wanted: 'lower',
  amount: null,
  by: null,
  worth: null,
  worth_unit: '',
}

/** A new improvement, that begins on a day and is to move a KPI the way that is better for it. */
export function newDraft(
  began: string,
  kpi: { slug: string; direction?: Schemas['Direction'] } | null,
  from: Partial<Pick<Draft, 'finding' | 'event' | 'shift' | 'name' | 'text'>> = {},
): Draft {
  const wanted = kpi?.direction === 'higher' ? 'higher' : 'lower'
  return {
    id: null,
    version: 0,
    name: '',
    text: '',
    owner: null,
    began,
    aims: kpi ? [{ ...NEW_AIM, kpi: kpi.slug, wanted }] : [],
    finding: null,
    event: null,
    shift: '',
    ...from,
  }
}

/** An improvement as it is, to be changed. */
export function draftOf(improvement: Improvement): Draft {
  const { id, version, name, text, owner, began } = improvement
  const aims = improvement.aims.map(({ kpi, wanted, amount, by, worth, worth_unit }) => ({
    kpi,
    wanted,
    amount,
    by,
    worth,
    worth_unit,
  }))
  return { id, version, name, text, owner, began, aims, finding: null, event: null, shift: '' }
}

export function useImprovement(workspace: string, number: number | null) {
  return useQuery({
    queryKey: keys.improvements(workspace, 'one', number),
    queryFn: ({ signal }) =>
      answer(
        client.GET(`${base}/{number}`, {
          params: { path: { workspace, number: number ?? 0 } },
          signal,
        }),
      ),
    enabled: number !== null,
  })
}

/** What there is to say of an aim before it has begun; null asks nothing. */
export function useExpected(workspace: string, aim: AimDraft | null, began: string) {
  const query = {
    kpi: aim?.kpi ?? '',
    began,
    wanted: aim?.wanted ?? 'lower',
    ...(aim?.amount ? { amount: aim.amount } : {}),
  } as const
  return useQuery({
    queryKey: keys.improvements(workspace, 'expected', query),
    queryFn: ({ signal }) =>
      answer(client.GET(`${base}/expected`, { params: { path: { workspace }, query }, signal })),
    enabled: aim !== null && began !== '',
    placeholderData: keepPreviousData,
    retry: false,
  })
}

/** Writes down, changes and removes improvements; what is removed can be brought back. */
export function useImprovementActs(workspace: string) {
  const queries = useQueryClient()
  const renewed = () => renew.afterImprovement(queries, workspace)
  const one = (id: number) => ({ path: { workspace, number: id } })
  const seen = (id: number, version: number) => ({
    params: { ...one(id), header: { 'If-Match': `"${version}"` } },
  })
  const refused = (error: Error) => {
    renewed()
    notifyProblem(error)
  }
  const save = useMutation({
    mutationFn: ({ id, version, finding, event, shift, ...form }: Draft) =>
      id === null
        ? answer(
            client.POST(base, {
              params: { path: { workspace } },
              body: { ...form, finding, event, shift },
            }),
          )
        : answer(client.PATCH(`${base}/{number}`, { ...seen(id, version), body: form })),
    onSuccess: renewed,
  })
  const back = useMutation({
    mutationFn: (id: number) => answer(client.POST(`${base}/{number}/back`, { params: one(id) })),
    onSuccess: renewed,
    onError: notifyProblem,
  })
  const remove = useMutation({
    mutationFn: ({ id, version }: Improvement) =>
      answer(client.DELETE(`${base}/{number}`, seen(id, version))),
    onSuccess: (_, { id, name }) => {
      renewed()
      notifyUndoable(`${name} is removed.`, () => back.mutate(id), 'Bring it back')
    },
    onError: refused,
  })
  return { save, remove }
}
