import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { api, type HouseStyle } from '../../api/client'
import { Picture } from '../../parts/Picture'
import { Waiting } from '../../parts/Trouble'
import { moment } from '../../parts/words'

/** The rules in the order in which they act, each with a sample from real frames. */
export function HouseStylePlace() {
  const style = useQuery({ queryKey: ['house-style'], queryFn: api.houseStyle })
  if (!style.data) return <Waiting error={style.error} />
  const { samples } = style.data
  const night = samples.find((sample) => sample.day !== sample.captured_at.slice(0, 10))
  const sample = night ?? samples[0]
  return (
    <div className="page pb-16">
      <div className="flex items-baseline gap-4 pt-5 pb-1">
        <h1 className="text-[28px]">House style</h1>
        <p className="text-soft">{style.data.name}, the one there is so far; its rules are fixed</p>
      </div>
      <ol>
        <Rule n={1} title="A day starts at four" rule={`What is shot before ${style.data.day_starts} belongs to the day before, so that a night past midnight stays whole.`}>
          {sample && <>{sample.original}, taken {moment(sample.captured_at)}, belongs to <b>{sample.day}</b></>}
        </Rule>
        <Rule n={2} title="Each day is a shoot" rule={style.data.break_after === null ? 'Frames of one day make one entry on the sheet; a pause does not divide them.' : `A pause of ${style.data.break_after} minutes divides them, too.`}>
          {samples.length > 0 && <>The frames at hand fall on <b>{[...new Set(samples.map((one) => one.day))].join(', ')}</b></>}
        </Rule>
        <Rule n={3} title="Folder" rule="Year, then the day and the shoot’s name: folders sort by name as by time.">
          {sample && <b>{sample.folder}</b>}
        </Rule>
        <Rule n={4} title="File" rule="Day, shoot and a counter in capture order; raw, JPEG and companions of a frame share one name. The counter goes on where the folder’s last file ended.">
          {sample && <>{sample.original} becomes <b>{sample.file}</b></>}
        </Rule>
        <Rule n={5} title="Copies" rule="Each file is read once, written to the shelf and its twin, read back from both drives and compared by XXH128 before it gets its name. Nothing is overwritten, and nothing is written to a card.">
          {null}
        </Rule>
      </ol>
      {samples.length > 0 && <Samples samples={samples} />}
    </div>
  )
}

function Rule({ n, title, rule, children }: { n: number; title: string; rule: string; children: ReactNode }) {
  return (
    <li className="grid grid-cols-[44px_minmax(260px,1fr)_minmax(0,1.2fr)] gap-x-6 border-b border-rule py-4">
      <span className="serif text-[28px] leading-none text-velvet">{n}</span>
      <div>
        <h2 className="text-[19px]">{title}</h2>
        <p className="mt-1 max-w-[58ch] text-soft">{rule}</p>
      </div>
      <p className="self-center break-words [&_b]:font-semibold">{children}</p>
    </li>
  )
}

function Samples({ samples }: { samples: HouseStyle['samples'] }) {
  return (
    <section aria-label="Samples" className="mt-8">
      <h2 className="mb-3 text-[21px]">On the frames at hand</h2>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-5">
        {samples.map((sample) => (
          <figure key={sample.original + sample.captured_at} className="border border-rule bg-leaf">
            <div className="mat grid h-[150px] place-items-center">
              <Picture fingerprint={sample.picture} name={sample.original} height={132} />
            </div>
            <figcaption className="px-3.5 py-2.5 text-[13px]">
              <div className="text-soft">{sample.original}, {moment(sample.captured_at)}</div>
              <div className="font-semibold break-words">{sample.file}</div>
              <div className="text-soft">in {sample.folder}{sample.named ? '' : ' (an example name)'}</div>
            </figcaption>
          </figure>
        ))}
      </div>
    </section>
  )
}
