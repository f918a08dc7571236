// @vitest-environment jsdom
// The focus comes home when what had it goes, and is left alone otherwise.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { keepFocus } from './focusHome.ts'

let stop = () => {}
beforeEach(() => {
  document.body.innerHTML = `<main id="main"><div data-focus-home tabindex="0"></div>
    <button id="one">One</button><button id="two">Two</button></main>`
  stop = keepFocus()
})
afterEach(() => {
  stop()
  document.body.replaceChildren()
})

const there = (id: string) => document.getElementById(id) as HTMLButtonElement
const home = () => document.querySelector('[data-focus-home]')
const here = () => document.activeElement

describe('the focus', () => {
  it('comes home from what is removed, and from what can be pressed no more', async () => {
    there('one').focus()
    there('one').remove()
    await vi.waitFor(() => expect(here()).toBe(home()))
    there('two').focus()
    there('two').disabled = true
    there('two').blur()
    await vi.waitFor(() => expect(here()).toBe(home()))
  })

  it('comes back to what could not be pressed only while it waited', async () => {
    there('one').focus()
    there('one').disabled = true
    there('one').blur()
    await new Promise((resolve) => setTimeout(resolve, 0))
    there('one').disabled = false
    await vi.waitFor(() => expect(here()).toBe(there('one')))
  })

  it('comes back from home as well, when the answer took long', async () => {
    there('one').focus()
    there('one').disabled = true
    there('one').blur()
    await vi.waitFor(() => expect(here()).toBe(home()))
    there('one').disabled = false
    await vi.waitFor(() => expect(here()).toBe(there('one')))
  })

  it('comes to the dialog that is open, not to the page behind it', async () => {
    const dialog = document.createElement('div')
    dialog.setAttribute('role', 'dialog')
    dialog.innerHTML = '<button id="within">Within</button>'
    document.body.append(dialog)
    there('within').focus()
    there('within').remove()
    await vi.waitFor(() => expect(here()).toBe(dialog))
  })

  it('stays where somebody else has taken it, and where nothing had it', async () => {
    there('one').focus()
    there('one').remove()
    there('two').focus()
    await new Promise((resolve) => setTimeout(resolve, 300))
    expect(here()).toBe(there('two'))
  })
})
