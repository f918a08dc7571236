import { AppShell, Burger, Group } from '@mantine/core'
import { useDisclosure, useHotkeys, useWindowEvent } from '@mantine/hooks'
import { useEffect } from 'react'
import { Outlet, useLocation, useParams } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { Jump } from './Jump.tsx'
import { Keys } from './Keys.tsx'
import { Logo } from './Logo.tsx'
import { Rail } from './Rail.tsx'
import classes from './Shell.module.css'

/** The frame of every page: the rail, and what can be called from anywhere. */
export function Shell({ session }: { session: Schemas['Session'] }) {
  const { workspace = '' } = useParams()
  const [open, { toggle, close }] = useDisclosure()
  const [jumping, jump] = useDisclosure()
  const [showingKeys, keys] = useDisclosure()
  const { pathname } = useLocation()
  useHotkeys([['mod+K', jump.toggle]], [])
  useWindowEvent('keydown', (event) => {
    // By the character, not the keys: where it is on the keyboard differs between countries.
    const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea')
    if (event.key === '?' && !typing) keys.toggle()
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: the drawer closes when the page changes
  useEffect(close, [pathname])

  return (
    <AppShell
      header={{ height: { base: 52, md: 0 } }}
      navbar={{ width: 204, breakpoint: 'md', collapsed: { mobile: !open } }}
      padding={{ base: 'sm', md: 'lg' }}
    >
      <a className={classes.skip} href="#main">
        Skip to the chart
      </a>
      <AppShell.Header hiddenFrom="md" className={classes.header}>
        <Group h="100%" px="sm" gap="sm">
          <Burger opened={open} onClick={toggle} color="#fff" size="sm" aria-label="KPIs" />
          <Logo size={24} />
          <b>Fluctus</b>
        </Group>
      </AppShell.Header>
      <AppShell.Navbar className={classes.rail} aria-label="KPIs">
        <Rail session={session} workspace={workspace} onJump={jump.open} onKeys={keys.open} />
      </AppShell.Navbar>
      <AppShell.Main id="main" tabIndex={-1} className={classes.main}>
        <Outlet />
      </AppShell.Main>
      <Jump workspace={workspace} opened={jumping} onClose={jump.close} onKeys={keys.open} />
      <Keys opened={showingKeys} onClose={keys.close} />
    </AppShell>
  )
}
