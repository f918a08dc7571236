import { ActionIcon } from '@mantine/core'
import { IconStar, IconStarFilled } from '@tabler/icons-react'
import type { KpiPath } from '../../api/keys.ts'
import { useFavorites, useKeepAtHand } from '../../shared/favorites.ts'

/** Whether the KPI stands at the top of the rail, for this person alone. */
export function AtHand({ path }: { path: KpiPath }) {
  const kept = useFavorites(path.workspace).includes(path.kpi)
  const keep = useKeepAtHand(path)
  const does = kept ? 'Let go of it at the top of the rail' : 'Keep it at the top of the rail'
  return (
    <ActionIcon
      variant="subtle"
      size={28}
      aria-pressed={kept}
      aria-label="At hand"
      title={does}
      onClick={() => keep.mutate(!kept)}
    >
      {kept ? <IconStarFilled size={18} /> : <IconStar size={18} />}
    </ActionIcon>
  )
}
