import { lazy, Suspense, useState } from 'react'
import { useNavigate } from 'react-router'
import { useKeys } from '../keys/useKeys'

const KeyList = lazy(async () => ({ default: (await import('./KeyList')).KeyList }))

/** The keys that work everywhere, and the list of all keys. */
export function Keys() {
  const [open, setOpen] = useState(false)
  const navigate = useNavigate()
  useKeys('everywhere', {
    list: () => {
      setOpen(true)
    },
    search: () => {
      void navigate('/shoots', { state: { search: Date.now() } })
    },
  })
  return (
    open && (
      <Suspense fallback={null}>
        <KeyList
          onClose={() => {
            setOpen(false)
          }}
        />
      </Suspense>
    )
  )
}
