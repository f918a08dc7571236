import { Loader } from '@mantine/core'
import { Notice } from '../shared/Notice.tsx'
import type { Panel } from './face.ts'
import { PanelBody } from './PanelBody.tsx'
import type { usePanels } from './panels.ts'

type Props = Omit<Parameters<typeof PanelBody>[0], 'content' | 'panel'> & {
  panel: Panel
  query: ReturnType<typeof usePanels>
}

/** What a panel shows, once it is known. */
export function PanelShown({ query, ...props }: Props) {
  const content = query.data?.get(props.panel.key)
  if (content) return <PanelBody {...props} content={content} />
  if (query.error) return <Notice error={query.error} retry={query.refetch} />
  return <Loader size="sm" role="status" aria-label="Loading" />
}
