import { listen, type Told } from './stream'

/** The server's events by the one connection of this browser; by one of this page where it cannot share. */
export function listenTogether(tell: (told: Told) => void): () => void {
  if (typeof SharedWorker === 'undefined') return listen(tell)
  const { port } = new SharedWorker(new URL('./stream.worker.ts', import.meta.url), { type: 'module', name: 'events' })
  port.onmessage = ({ data }: MessageEvent<Told>) => {
    tell(data)
  }
  const come = () => {
    port.postMessage(true)
  }
  const go = () => {
    port.postMessage(false)
  }
  const back = ({ persisted }: PageTransitionEvent) => {
    if (persisted) come()
  }
  come()
  // a page that is kept for going back to it hears nothing meanwhile, and asks for everything when it is shown again
  window.addEventListener('pagehide', go)
  window.addEventListener('pageshow', back)
  return () => {
    window.removeEventListener('pagehide', go)
    window.removeEventListener('pageshow', back)
    go()
    port.close()
  }
}
