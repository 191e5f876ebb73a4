import { Navigate, Route, Routes } from 'react-router'
import { useFeed } from './api/feed'
import { Band } from './parts/Band'
import { Keys } from './parts/Keys'
import { Unanswered } from './parts/Unanswered'
import { BaysPlace } from './places/bays/BaysPlace'
import { HouseStylePlace } from './places/house-style/HouseStylePlace'
import { KeywordsPlace } from './places/keywords/KeywordsPlace'
import { LedgerPlace } from './places/ledger/LedgerPlace'
import { ReceiptPlace } from './places/sheet/ReceiptPlace'
import { SheetPlace } from './places/sheet/SheetPlace'
import { ShootPlace } from './places/shoots/ShootPlace'
import { ShootsPlace } from './places/shoots/ShootsPlace'

export function App() {
  useFeed()
  return (
    <>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-leaf focus:p-3">
        To the page
      </a>
      <Band />
      <main id="main" tabIndex={-1} className="outline-none">
        <Unanswered />
        <Routes>
          <Route path="/" element={<Navigate to="/bays" replace />} />
          <Route path="/bays" element={<BaysPlace />} />
          <Route path="/sheets/:id" element={<SheetPlace />} />
          <Route path="/sheets/:id/receipt" element={<ReceiptPlace />} />
          <Route path="/shoots" element={<ShootsPlace />} />
          <Route path="/shoots/:id" element={<ShootPlace />} />
          <Route path="/ledger" element={<LedgerPlace />} />
          <Route path="/house-style" element={<HouseStylePlace />} />
          <Route path="/house-style/keywords" element={<KeywordsPlace />} />
          <Route path="*" element={<Navigate to="/bays" replace />} />
        </Routes>
      </main>
      <Keys />
    </>
  )
}
