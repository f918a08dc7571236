// What the person who is signed in may do in the workspace on screen. The server decides; what
// it would refuse is not offered.
import { useParams } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { useSession } from './session.ts'

export type Role = Schemas['Role']

const ORDER: Role[] = ['viewer', 'contributor', 'editor', 'owner']

export interface May {
  role: Role
  /** Add values, causes, remarks and events. */
  add: boolean
  /** Change charts, data and pages. */
  edit: boolean
  /** See to people and roles, and delete. */
  own: boolean
}

export function useMay(): May {
  const { workspace = '' } = useParams()
  const { data } = useSession()
  const role = data?.workspaces.find(({ slug }) => slug === workspace)?.role ?? 'viewer'
  const reaches = (needed: Role) => ORDER.indexOf(role) >= ORDER.indexOf(needed)
  return { role, add: reaches('contributor'), edit: reaches('editor'), own: reaches('owner') }
}
