// Where the focus goes when what had it has gone: never to the start of the page.

/** Marks what takes the focus then, within a dialog or the page. */
export const FOCUS_HOME = { 'data-focus-home': '' } as const

let last: Element | null = null
let looking = false

/** Keeps the focus within what a person works on, from now on; returns how to stop. */
export function keepFocus(): () => void {
  const note = (event: FocusEvent) => {
    if (event.target instanceof Element) last = event.target
  }
  const look = () => {
    if (looking) return
    looking = true
    // A dialog that closes gives the focus back itself; what it does not, comes home.
    requestAnimationFrame(() =>
      requestAnimationFrame(() => {
        looking = false
        if (isLost()) bringHome()
      }),
    )
  }
  const changes = new MutationObserver(look)
  document.addEventListener('focusin', note)
  changes.observe(document.body, {
    childList: true,
    subtree: true,
    attributes: true,
    attributeFilter: ['disabled'],
  })
  return () => {
    document.removeEventListener('focusin', note)
    changes.disconnect()
  }
}

/** Whether the focus has fallen to the page since what had it has gone or cannot have it any more. */
function isLost(): boolean {
  const here = document.activeElement
  if (here !== null && here !== document.body) return false
  if (last === null) return false
  return !last.isConnected || last.matches(':disabled')
}

function bringHome() {
  const dialog = [...document.querySelectorAll('[role="dialog"]')].at(-1)
  const within = dialog ?? document.getElementById('main') ?? document.querySelector('main')
  const home = within?.querySelector<HTMLElement>('[data-focus-home]') ?? within
  if (!(home instanceof HTMLElement)) return
  if (home.tabIndex < 0 && !home.hasAttribute('tabindex')) home.tabIndex = -1
  home.focus({ preventScroll: true })
}
