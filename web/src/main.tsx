import '@fontsource-variable/hanken-grotesk'
import '@mantine/core/styles.css'
import './styles.css'
import './targets.css'
import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { Problem } from './api/client.ts'
import { App } from './app/App.tsx'
import { theme, variables } from './theme.ts'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // Asking again helps only when the server could not be reached.
      retry: (failures, error) => error instanceof Problem && error.status === 0 && failures < 2,
      staleTime: 15_000,
      networkMode: 'always',
    },
    // What cannot be sent is refused at once and says so: nothing waits to be sent later, when
    // it may not be wanted any more.
    mutations: { networkMode: 'always' },
  },
})

/** What style elements made by scripts carry, or the browser would refuse them: libraries look
 * for it by the name that bundlers have given it. */
const nonce = document.querySelector<HTMLMetaElement>('meta[name="nonce"]')?.content ?? ''
;(globalThis as { __webpack_nonce__?: string }).__webpack_nonce__ = nonce

const root = document.getElementById('root')
if (root) {
  createRoot(root).render(
    <StrictMode>
      <MantineProvider
        theme={theme}
        cssVariablesResolver={variables}
        defaultColorScheme="auto"
        getStyleNonce={() => nonce}
      >
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  )
}
