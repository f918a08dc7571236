import { Burger, Loader } from '@mantine/core'
import { useDisclosure, useHotkeys, useWindowEvent } from '@mantine/hooks'
import { lazy, Suspense, useEffect, useRef, useState } from 'react'
import { Outlet, useLocation, useParams } from 'react-router'
import type { Schemas } from '../api/client.ts'
import { Boundary } from '../shared/Boundary.tsx'
import { keepFocus } from '../shared/focusHome.ts'
import { Logo } from '../shared/Logo.tsx'
import { Live } from './Live.tsx'
import { Offline } from './Offline.tsx'
import { Rail } from './Rail.tsx'
import classes from './Shell.module.css'

const Jump = lazy(async () => ({ default: (await import('./Jump.tsx')).Jump }))
const Keys = lazy(async () => ({ default: (await import('./Keys.tsx')).Keys }))

/** What is typed while a list to type in is still loading is for the list, not for the page. */
function TypeAhead({ onType }: { onType: (text: string) => void }) {
  const typed = useRef('')
  useWindowEvent(
    'keydown',
    (event) => {
      if (event.key.length > 1 || event.ctrlKey || event.metaKey || event.altKey) return
      event.preventDefault()
      event.stopPropagation()
      typed.current += event.key
      onType(typed.current)
    },
    true,
  )
  return null
}

/** The frame of every page: the rail, and what can be called from anywhere. */
export function Shell({ session }: { session: Schemas['Session'] }) {
  const { workspace = '' } = useParams()
  const [open, { toggle, close }] = useDisclosure()
  const [typedAhead, setTypedAhead] = useState('')
  const [jumping, jump] = useDisclosure(false, { onClose: () => setTypedAhead('') })
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
  useEffect(keepFocus, [])

  return (
    <div className={classes.frame}>
      <a className={classes.skip} href="#main">
        Skip to the chart
      </a>
      <Live workspace={workspace} />
      <header className={classes.header}>
        <Burger opened={open} onClick={toggle} color="#fff" size="sm" aria-label="KPIs" />
        <Logo size={24} />
        <b>Fluctus</b>
      </header>
      <nav className={classes.rail} data-open={open} aria-label="KPIs">
        <Rail session={session} workspace={workspace} onJump={jump.open} onKeys={keys.open} />
      </nav>
      <main id="main" tabIndex={-1} className={classes.main}>
        <Offline />
        <Boundary key={pathname}>
          <Suspense fallback={<Loader role="status" aria-label="Loading" />}>
            <Outlet />
          </Suspense>
        </Boundary>
      </main>
      <Suspense>
        {jumping && (
          <Suspense fallback={<TypeAhead onType={setTypedAhead} />}>
            <Jump
              workspace={workspace}
              typed={typedAhead}
              onClose={jump.close}
              onKeys={keys.open}
            />
          </Suspense>
        )}
        {showingKeys && <Keys opened onClose={keys.close} />}
      </Suspense>
    </div>
  )
}
