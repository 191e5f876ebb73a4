import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Witness } from '../../api/client'
import { ShowMore } from '../../parts/ShowMore'
import { plural } from '../../parts/words'

/** What the card of the second slot says of the first one, frame by frame. */
export function Witnesses({ sheet }: { sheet: number }) {
  const pairs = useQuery({ queryKey: ['witness', sheet], queryFn: () => api.witness(sheet) })
  return (pairs.data ?? []).map((pair) => <Pair key={`${pair.first} ${pair.second}`} pair={pair} />)
}

function Pair({ pair }: { pair: Witness }) {
  const [open, setOpen] = useState(false)
  const lists = [
    [`only on ${pair.first}`, pair.only_first],
    [`only on ${pair.second}`, pair.only_second],
    ['differ', pair.differs],
    ['raw on one, JPEG on the other', pair.other_kinds],
  ] as const
  const odd = lists.filter(([, names]) => names.length > 0)
  return (
    <section
      aria-label={`${pair.first} and ${pair.second} compared`}
      className="mb-2 border-l-[3px] border-double border-rule-strong pl-3.5 text-[13px]"
    >
      <span className="font-semibold">
        Backup slot check, {pair.second} against {pair.first}:
      </span>{' '}
      {plural(pair.same.length, 'frame')} the same on both
      {odd.map(([what, names]) => `, ${names.length.toLocaleString('en')} ${what}`)}.{' '}
      <span className="text-soft">
        What is the same is copied once, when the copy has compared both to the last byte; what one card lacks or cannot
        give comes from the other.
      </span>{' '}
      {odd.length > 0 && <ShowMore open={open} onOpen={setOpen} says={['Show which', 'Hide which']} />}
      {open &&
        odd.map(([what, names]) => (
          <p key={what} className="mt-1 max-h-[120px] overflow-y-auto">
            <span className="text-soft">{what}:</span> {names.join(', ')}
          </p>
        ))}
    </section>
  )
}
