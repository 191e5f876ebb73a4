/** Run within a page before its own code: `window.painted()` is settled when the frame at hand has been painted. */
export function equipPainted() {
  window.painted = () =>
    new Promise((resolve) => {
      requestAnimationFrame(() => {
        const { port1, port2 } = new MessageChannel()
        port1.onmessage = resolve
        port2.postMessage(null)
      })
    })
}
