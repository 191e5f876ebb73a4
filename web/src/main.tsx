import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { Refused } from './api/client'
import { Queries } from './api/queries'
import { App } from './app'
import './style/tokens.css'

const queries = new Queries({
  defaultOptions: {
    // the server may be this very computer: whether the network is there says nothing
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      staleTime: 5_000,
      refetchOnWindowFocus: false,
      // what the server refused once it refuses again; what did not answer may be starting
      retry: (failures, error) => !(error instanceof Refused && error.status > 0) && failures < 5,
      retryDelay: (attempt) => Math.min(300 * 2 ** attempt, 3_000),
    },
  },
})

const root = document.getElementById('root')
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  )
}
