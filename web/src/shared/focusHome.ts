// Where the focus goes when what had it has gone: never to the start of the page.
// What is marked with `data-focus-home` takes it, within a dialog or the page.

/** Milliseconds in which what has closed may give the focus back itself. */
const PATIENCE = 250

let last: Element | null = null
let looking = false
/** Whether `last` was disabled since it had the focus, which takes it away for good. */
let disabled = false
/** What waits for an answer, and where the focus is meanwhile: it comes back if nobody moved it on. */
let waiting: { from: HTMLElement; home: HTMLElement } | null = null
/** Whether a pointer is down: what it drags is drawn anew under it, and is not lost. */
let dragging = false

/** Keeps the focus within what a person works on, from now on; returns how to stop. */
export function keepFocus(): () => void {
  const note = (event: FocusEvent) => {
    if (!(event.target instanceof Element)) return
    if (event.target !== waiting?.home) waiting = null
    last = event.target
    disabled = false
  }
  const look = () => {
    disabled ||= last?.matches(':disabled') ?? false
    if (looking) return
    looking = true
    // What closes gives the focus back itself, a moment later; what it does not, comes home.
    setTimeout(() => {
      looking = false
      if (dragging) return
      if (isLost()) bringHome()
      else if (waiting && !waiting.from.matches(':disabled')) bringBack(waiting)
    }, PATIENCE)
  }
  const press = (event: PointerEvent) => {
    dragging = event.type === 'pointerdown'
    if (!dragging) look()
  }
  const changes = new MutationObserver(look)
  const presses = ['pointerdown', 'pointerup', 'pointercancel'] as const
  document.addEventListener('focusin', note)
  for (const kind of presses) document.addEventListener(kind, press, { capture: true })
  changes.observe(document.body, {
    childList: true,
    subtree: true,
    attributes: true,
    attributeFilter: ['disabled'],
  })
  return () => {
    document.removeEventListener('focusin', note)
    for (const kind of presses) document.removeEventListener(kind, press, { capture: true })
    changes.disconnect()
  }
}

/** Whether the focus has fallen to the page since what had it has gone or cannot have it any more. */
function isLost(): boolean {
  const here = document.activeElement
  if (here !== null && here !== document.body) return false
  if (last === null) return false
  return !last.isConnected || disabled
}

function bringHome() {
  // What waited for an answer, and was refused, is at hand again.
  if (last instanceof HTMLElement && last.isConnected && !last.matches(':disabled'))
    return last.focus({ preventScroll: true })
  const dialog = [...document.querySelectorAll('[role="dialog"]')].at(-1)
  const within = dialog ?? document.getElementById('main') ?? document.querySelector('main')
  const home = within?.querySelector<HTMLElement>('[data-focus-home]') ?? within
  if (!(home instanceof HTMLElement)) return
  const left = last instanceof HTMLElement && last.isConnected ? last : null
  if (home.tabIndex < 0 && !home.hasAttribute('tabindex')) home.tabIndex = -1
  waiting = left && { from: left, home }
  home.focus({ preventScroll: true })
}

function bringBack({ from, home }: NonNullable<typeof waiting>) {
  waiting = null
  if (from.isConnected && document.activeElement === home) from.focus({ preventScroll: true })
}
