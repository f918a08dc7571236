// What a browser keeps from one visit to the next. One that keeps nothing is told nothing and says null.

export function keptInBrowser(name: string): string | null {
  try {
    return localStorage.getItem(name)
  } catch {
    return null
  }
}

/** The same as it was written, as JSON; null also for what is none. */
export function jsonInBrowser(name: string): unknown {
  try {
    return JSON.parse(keptInBrowser(name) ?? 'null')
  } catch {
    return null
  }
}

/** Keeps a text under a name, or with null nothing any more. */
export function keepInBrowser(name: string, text: string | null) {
  try {
    if (text === null) localStorage.removeItem(name)
    else localStorage.setItem(name, text)
  } catch {
    // It is in memory still, for as long as the page is open.
  }
}
