import { useQuery } from '@tanstack/react-query'
import { memo, useState } from 'react'
import { api, type Witness } from '../../api/client'
import { ShowMore } from '../../parts/ShowMore'
import { texts } from './texts'

/** What the card of the second slot says of the first one, frame by frame. */
export const Witnesses = memo(function Witnesses({ sheet }: { sheet: number }) {
  const pairs = useQuery({ queryKey: ['witness', sheet], queryFn: () => api.witness(sheet) })
  return (pairs.data ?? []).map((pair) => <Pair key={`${pair.first} ${pair.second}`} pair={pair} />)
})

const says = texts.witness

function Pair({ pair }: { pair: Witness }) {
  const [open, setOpen] = useState(false)
  const lists = [
    [says.onlyOn(pair.first), pair.only_first],
    [says.onlyOn(pair.second), pair.only_second],
    [says.differ, pair.differs],
    [says.kinds, pair.other_kinds],
  ] as const
  const odd = lists.filter(([, names]) => names.length > 0)
  return (
    <section
      aria-label={says.label(pair.first, pair.second)}
      className="mb-2 border-l-[3px] border-double border-rule-strong pl-3.5 text-[13px]"
    >
      <span className="font-semibold">{says.title(pair.first, pair.second)}</span> {says.same(pair.same.length)}
      {odd.map(([what, names]) => `, ${names.length.toLocaleString('en')} ${what}`)}.{' '}
      <span className="text-soft">{says.about}</span>{' '}
      {odd.length > 0 && <ShowMore open={open} onOpen={setOpen} says={[says.show, says.hide]} />}
      {open &&
        odd.map(([what, names]) => (
          <p key={what} className="mt-1 max-h-[120px] overflow-y-auto">
            <span className="text-soft">{what}:</span> {names.join(', ')}
          </p>
        ))}
    </section>
  )
}
