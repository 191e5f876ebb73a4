/** What a page is called: on it, and by the browser. */
export function Heading({ children }: { children: string }) {
  return (
    <>
      <title>{`${children} · Velvet Ledger`}</title>
      <h1 className="text-[28px]">{children}</h1>
    </>
  )
}
