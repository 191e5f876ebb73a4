import { lazy, Suspense, useEffect, useState } from 'react'
import { useNavigate } from 'react-router'

const KeyList = lazy(async () => ({ default: (await import('./KeyList')).KeyList }))

export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  )
}

/** The keys that work everywhere, and the list of all keys. */
export function Keys() {
  const [open, setOpen] = useState(false)
  const navigate = useNavigate()
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return
      if (event.key === '?') setOpen(true)
      if (event.key === '/') {
        event.preventDefault()
        void navigate('/shoots', { state: { search: Date.now() } })
      }
    }
    window.addEventListener('keydown', press)
    return () => {
      window.removeEventListener('keydown', press)
    }
  }, [navigate])
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
