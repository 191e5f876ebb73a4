import { useEffect, useState } from 'react'

export type Theme = 'day' | 'evening'
const KEPT = 'velvet-theme'

function first(): Theme {
  const kept = localStorage.getItem(KEPT)
  if (kept === 'day' || kept === 'evening') return kept
  return window.matchMedia('(prefers-color-scheme: dark)').matches ? 'evening' : 'day'
}

export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState(first)
  useEffect(() => {
    document.documentElement.dataset.theme = theme
  }, [theme])
  return [
    theme,
    () => {
      const next = theme === 'day' ? 'evening' : 'day'
      localStorage.setItem(KEPT, next)
      setTheme(next)
    },
  ]
}
