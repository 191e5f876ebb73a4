import { Component, lazy, Suspense, type ComponentType, type ReactNode } from 'react'
import { Navigate, Route, Routes, useLocation } from 'react-router'
import { Band } from './parts/Band'
import { useFailures } from './parts/failures'
import { Keys } from './parts/Keys'
import { Trouble } from './parts/Trouble'
import { Unanswered } from './parts/Unanswered'
import { useFeed } from './store/feed'

/** A place that is loaded when it is opened. */
function place<N extends string>(load: () => Promise<Record<N, ComponentType>>, name: N) {
  return lazy(async () => ({ default: (await load())[name] }))
}

const Failures = lazy(async () => ({ default: (await import('./parts/Failures')).Failures }))
const BaysPlace = place(() => import('./places/bays/BaysPlace'), 'BaysPlace')
const SheetPlace = place(() => import('./places/sheet/SheetPlace'), 'SheetPlace')
const ReceiptPlace = place(() => import('./places/sheet/ReceiptPlace'), 'ReceiptPlace')
const ShootsPlace = place(() => import('./places/shoots/ShootsPlace'), 'ShootsPlace')
const ShootPlace = place(() => import('./places/shoots/ShootPlace'), 'ShootPlace')
const AsidePlace = place(() => import('./places/shoots/AsidePlace'), 'AsidePlace')
const FirstLookPlace = place(() => import('./places/first-look/FirstLookPlace'), 'FirstLookPlace')
const LedgerPlace = place(() => import('./places/ledger/LedgerPlace'), 'LedgerPlace')
const HouseStylePlace = place(() => import('./places/house-style/HouseStylePlace'), 'HouseStylePlace')
const HandbookPlace = place(() => import('./places/handbook/HandbookPlace'), 'HandbookPlace')
const KeywordsPlace = place(() => import('./places/keywords/KeywordsPlace'), 'KeywordsPlace')

export function App() {
  useFeed()
  const { failures, dismiss } = useFailures()
  const { pathname } = useLocation()
  return (
    <>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-leaf focus:p-3">
        To the page
      </a>
      {!pathname.endsWith('/first-look') && <Band />}
      <main id="main" tabIndex={-1} className="outline-none">
        <Unanswered />
        <Caught>
          <Suspense fallback={<p className="page py-10 text-soft">Opening…</p>}>
            <Routes>
              <Route path="/" element={<Navigate to="/bays" replace />} />
              <Route path="/bays" element={<BaysPlace />} />
              <Route path="/sheets/:id" element={<SheetPlace />} />
              <Route path="/sheets/:id/first-look" element={<FirstLookPlace />} />
              <Route path="/first-look" element={<FirstLookPlace />} />
              <Route path="/sheets/:id/receipt" element={<ReceiptPlace />} />
              <Route path="/shoots" element={<ShootsPlace />} />
              <Route path="/shoots/:id" element={<ShootPlace />} />
              <Route path="/shoots/:id/first-look" element={<FirstLookPlace />} />
              <Route path="/shoots/:id/set-aside" element={<AsidePlace />} />
              <Route path="/ledger" element={<LedgerPlace />} />
              <Route path="/house-style" element={<HouseStylePlace />} />
              <Route path="/house-style/keywords" element={<KeywordsPlace />} />
              <Route path="/handbook" element={<HandbookPlace />} />
              <Route path="/handbook/:page" element={<HandbookPlace />} />
              <Route path="*" element={<Navigate to="/bays" replace />} />
            </Routes>
          </Suspense>
        </Caught>
      </main>
      <Keys />
      {failures.length > 0 && (
        <Suspense>
          <Failures all={failures} onDismiss={dismiss} />
        </Suspense>
      )}
    </>
  )
}

/** A page that broke says so, instead of leaving an empty window; what is copied goes on without it. */
class Caught extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state: { error: Error | null } = { error: null }

  static getDerivedStateFromError(error: unknown): { error: Error } {
    return { error: error instanceof Error ? error : new Error(String(error)) }
  }

  override render(): ReactNode {
    const { error } = this.state
    if (error === null) return this.props.children
    return (
      <div className="page py-10">
        <Trouble
          action={
            <button
              type="button"
              className="link ml-auto"
              onClick={() => {
                window.location.reload()
              }}
            >
              Load it again
            </button>
          }
        >
          This page could not be shown ({error.message}). Nothing is lost: what was typed is kept by the server, and
          what is being copied goes on.
        </Trouble>
      </div>
    )
  }
}
