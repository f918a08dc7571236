import { Menu, useMantineColorScheme } from '@mantine/core'
import {
  IconBell,
  IconHeartbeat,
  IconKey,
  IconKeyboard,
  IconLink,
  IconLogout,
  IconMail,
  IconMoon,
  IconSun,
  IconUser,
  IconUsers,
} from '@tabler/icons-react'
import { Link } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { useMay } from '../shared/may.ts'
import { useSignOut } from '../shared/session.ts'

export interface RailProps {
  session: Schemas['Session']
  workspace: string
  onJump: () => void
  onKeys: () => void
}

/** What the menu of who is signed in holds. */
export default function AccountItems({ session, workspace, onKeys }: Omit<RailProps, 'onJump'>) {
  const to = (page: string) => ({ component: Link, to: `/${workspace}/${page}` }) as const
  const signOut = useSignOut()
  const may = useMay()
  const { colorScheme, setColorScheme } = useMantineColorScheme()
  const dark =
    colorScheme === 'dark' ||
    (colorScheme === 'auto' && window.matchMedia('(prefers-color-scheme: dark)').matches)
  return (
    <>
      <Menu.Label>{session.person}</Menu.Label>
      <Menu.Item
        leftSection={dark ? <IconSun size={16} /> : <IconMoon size={16} />}
        onClick={() => setColorScheme(dark ? 'light' : 'dark')}
      >
        {dark ? 'Light' : 'Dark'} appearance
      </Menu.Item>
      <Menu.Item leftSection={<IconUser size={16} />} {...to('account')}>
        Your account
      </Menu.Item>
      <Menu.Item leftSection={<IconBell size={16} />} {...to('messages')}>
        Messages
      </Menu.Item>
      <Menu.Item leftSection={<IconUsers size={16} />} {...to('people')}>
        People
      </Menu.Item>
      {may.edit && (
        <Menu.Item leftSection={<IconLink size={16} />} {...to('links')}>
          Links
        </Menu.Item>
      )}
      <Menu.Item leftSection={<IconKey size={16} />} {...to('tokens')}>
        Tokens
      </Menu.Item>
      {session.operates && (
        <Menu.Item leftSection={<IconHeartbeat size={16} />} {...to('how-it-is')}>
          How it is
        </Menu.Item>
      )}
      {session.demo && (
        <Menu.Item leftSection={<IconMail size={16} />} {...to('mailbox')}>
          Mailbox of the demo
        </Menu.Item>
      )}
      <Menu.Item leftSection={<IconKeyboard size={16} />} onClick={onKeys}>
        Keys
      </Menu.Item>
      <Menu.Item leftSection={<IconLogout size={16} />} onClick={() => signOut.mutate()}>
        Sign out
      </Menu.Item>
    </>
  )
}
