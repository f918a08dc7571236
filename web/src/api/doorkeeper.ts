// Who is asked for a password in the middle of something, so that it can go on with what was in hand.
import { useSyncExternalStore } from 'react'
import { outside } from './outside.ts'

/** What stands in the way: nobody is signed in any more, or a password was typed too long ago. */
export type Asked = 'sign-in' | 'confirm'

const asked = outside<Asked | null>(null)
let waiting: ((let_in: boolean) => void)[] = []

/** Asks for a password over the page; tells whether one was given. Once, however many wait for it. */
export function letIn(what: Asked): Promise<boolean> {
  // A page without the dialog, such as a link's, asks nobody.
  if (!asked.isFollowed()) return Promise.resolve(false)
  asked.set(asked.get() ?? what)
  return new Promise((resolve) => waiting.push(resolve))
}

/** Ends what is asked: those that wait go on, or are refused as they were. */
export function answerDoor(in_now: boolean) {
  const all = waiting
  waiting = []
  asked.set(null)
  for (const resolve of all) resolve(in_now)
}

/** What is asked for just now. */
export const useAsked = () => useSyncExternalStore(asked.subscribe, asked.get)
