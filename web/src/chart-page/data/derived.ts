// KPIs that are made from another one and follow it.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { answer, client } from '../../api/client.ts'
import { keys, type Place } from '../../api/keys.ts'
import { notifyProblem } from '../../shared/notifications.tsx'

/** Makes a KPI of the time between the events that one counts, and goes to its chart. */
export function useTimeBetween(place: Place) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: () =>
      answer(
        client.POST('/api/v1/workspaces/{workspace}/kpis/{kpi}/time-between', {
          params: { path: place },
          body: { name: '' },
        }),
      ),
    onSuccess: async ({ slug }) => {
      await queries.invalidateQueries({ queryKey: keys.kpis(place.workspace) })
      navigate(`/${place.workspace}/charts/${slug}`)
    },
    onError: notifyProblem,
  })
}
