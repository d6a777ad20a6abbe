import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter, Outlet, Route, Routes, useLocation } from 'react-router'
import { Failure } from './api/client'
import { Frame } from './parts/Frame'
import { Safe } from './parts/Safe'
import { NightPage } from './night/NightPage'
import { PairPage } from './night/PairPage'
import {
  CostsPage,
  InspectPage,
  LogPage,
  LookPage,
  PortsPage,
  PowerPage,
  RehearsePage,
  RigList,
  RulesPage,
  RunPage,
  SendPage,
  ShelfPage,
  ShowPage,
  SlatePage,
  SoundPage,
  StartRig,
  TetherPage,
} from './screens'
import './styles.css'
import { words } from './words'

const noteAway = (error: Error) => {
  if (error instanceof Failure && error.away) window.dispatchEvent(new Event('away'))
}

const queries = new QueryClient({
  queryCache: new QueryCache({ onError: noteAway }),
  mutationCache: new MutationCache({ onError: noteAway }),
  defaultOptions: {
    queries: { retry: false, refetchOnWindowFocus: false, staleTime: 5_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})
window.addEventListener('back', () => void queries.invalidateQueries())

/** A screen that breaks says so, inside the page's frame; going elsewhere tries again. */
function Screens() {
  const { pathname } = useLocation()
  return (
    <Safe
      what={words.broke.screen}
      again={[pathname]}
      around={(said) => (
        <Frame>
          <main className="p-8">{said}</main>
        </Frame>
      )}
    >
      <Suspense
        fallback={
          <Frame>
            <main className="p-8">
              <p role="status">{words.board.loading}</p>
            </main>
          </Frame>
        }
      >
        <Outlet />
      </Suspense>
    </Safe>
  )
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Routes>
          <Route element={<Screens />}>
            <Route path="/" element={<RigList />} />
            <Route path="/shelf" element={<ShelfPage />} />
            <Route path="/rules" element={<RulesPage />} />
            <Route path="/slate" element={<SlatePage />} />
            <Route path="/new" element={<StartRig />} />
            <Route path="/rigs/:id" element={<TetherPage />} />
            <Route path="/rigs/:id/show" element={<ShowPage />} />
            <Route path="/rigs/:id/ports" element={<PortsPage />} />
            <Route path="/rigs/:id/power" element={<PowerPage />} />
            <Route path="/rigs/:id/send" element={<SendPage />} />
            <Route path="/rigs/:id/sound" element={<SoundPage />} />
            <Route path="/rigs/:id/costs" element={<CostsPage />} />
            <Route path="/rigs/:id/look" element={<LookPage />} />
            <Route path="/rigs/:id/inspect" element={<InspectPage />} />
            <Route path="/rigs/:id/rehearse" element={<RehearsePage />} />
            <Route path="/rigs/:id/run" element={<RunPage />} />
            <Route path="/log" element={<LogPage />} />
            <Route path="/nights/:id" element={<NightPage />} />
            <Route path="/pair" element={<PairPage />} />
            <Route
              path="*"
              element={
                <Frame>
                  <p className="p-8">{words.notFound}</p>
                </Frame>
              }
            />
          </Route>
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
)
