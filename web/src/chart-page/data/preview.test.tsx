// @vitest-environment jsdom
// What a dragging hand asks for, and what becomes of the answers.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, renderHook, waitFor } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../../api/client.ts'
import { chart } from '../../chart/sample.test-data.ts'
import { type Previewed, usePreview } from './preview.ts'

const path = { workspace: 'marrowick', kpi: 'ramp' }
const base = chart([10, 11, 9, 10, 12, 5, 6, 4, 5, 6], 5)

/** What is asked of the server and waits to be answered, oldest first. */
let asked: { path: string; target: unknown; answer: (data: object) => void }[]

beforeEach(() => {
  asked = []
  vi.spyOn(client, 'POST').mockImplementation(
    ((path: string, { body }: { body: Previewed }) =>
      new Promise((resolve) => {
        const answer = (data: object) => resolve({ data, response: new Response() })
        asked.push({ path: path.split('/').slice(7).join('/'), target: body.target, answer })
      })) as never,
  )
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

function previewed(draggedOn: typeof base | null) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  )
  return renderHook(
    ({ target }: { target: number | null }) =>
      usePreview(path, { width: 800 }, target === null ? null : { target }, draggedOn),
    { wrapper, initialProps: { target: null as number | null } },
  )
}

describe('a preview', () => {
  it('asks for nothing while nothing is in the hand', () => {
    expect(previewed(null).result.current.data).toBeUndefined()
    expect(asked).toEqual([])
  })

  it('under a dragging hand moves the levels, on the points that stand', async () => {
    const { result, rerender } = previewed(base)
    rerender({ target: 20 })
    await waitFor(() => expect(asked).toHaveLength(1))
    expect(asked[0]).toMatchObject({ path: 'preview/levels', target: 20 })
    const { points, ...levels } = { ...base, target_now: 20 }
    await act(async () => asked[0]?.answer({ ...levels, points: null }))
    await waitFor(() => expect(result.current.data?.target_now).toBe(20))
    expect(result.current.data?.points).toBe(points)
    expect(result.current.isPlaceholderData).toBe(false)
  })

  it('asks one at a time, and next for where the hand is by then', async () => {
    const { result, rerender } = previewed(base)
    for (const target of [20, 21, 22, 23]) rerender({ target })
    await waitFor(() => expect(asked).toHaveLength(1))
    expect(result.current.isPlaceholderData).toBe(true)
    await act(async () => asked[0]?.answer({ target_now: 20 }))
    await waitFor(() => expect(asked).toHaveLength(2))
    expect(asked.map(({ target }) => target)).toEqual([20, 23])
    await act(async () => asked[1]?.answer({ target_now: 23 }))
    await waitFor(() => expect(result.current.data?.target_now).toBe(23))
  })

  it('beside no hand brings the whole chart', async () => {
    const { result, rerender } = previewed(null)
    rerender({ target: 20 })
    await waitFor(() => expect(asked).toHaveLength(1))
    expect(asked[0]?.path).toBe('preview')
    await act(async () => asked[0]?.answer({ ...base, target_now: 20 }))
    await waitFor(() => expect(result.current.data).toEqual({ ...base, target_now: 20 }))
  })
})
