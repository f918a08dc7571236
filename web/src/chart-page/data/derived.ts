// KPIs that are made from others and follow them.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { answer, client, type Schemas } from '../../api/client.ts'
import { type KpiPath, keys } from '../../api/keys.ts'
import { notifyProblem } from '../../shared/notifications.tsx'

const derivation = '/api/v1/workspaces/{workspace}/kpis/{kpi}/derivation' as const

/** Makes a KPI from one, or from it and another, and goes to its chart. */
export function useDerive(path: KpiPath) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: (body: Schemas['NewDerivedRequest']) =>
      answer(client.POST(derivation, { params: { path }, body })),
    onSuccess: async ({ slug }) => {
      await queries.invalidateQueries({ queryKey: keys.kpis(path.workspace) })
      navigate(`/${path.workspace}/charts/${slug}`)
    },
    onError: notifyProblem,
  })
}
