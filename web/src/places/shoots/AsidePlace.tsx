import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { aside, asideFrames, changeAside, type AsideAct, type AsidePart, type AsideSum } from '../../api/aside'
import { api } from '../../api/client'
import { classes } from '../../parts/classes'
import { ContactSheet } from '../../parts/ContactSheet'
import { Heading } from '../../parts/Heading'
import { Look } from '../../parts/Look'
import { useSelection } from '../../parts/selection'
import { useShootFrames } from '../../parts/shoot-frames'
import { Sure } from '../../parts/Sure'
import { Nothing, Refusal, Trouble, Waiting } from '../../parts/Trouble'
import { day } from '../../parts/words'
import { Custody } from './Custody'
import { texts } from './texts'

interface Asked {
  do: AsideAct
  frames?: number[]
  files?: number
}

/** Struck frames of a shoot: set aside, brought back, thrown away. */
export function AsidePlace() {
  const id = Number(useParams().id)
  const queries = useQueryClient()
  const shoot = useQuery({ queryKey: ['shoots', id], queryFn: () => api.shoot(id) })
  const told = useQuery({ queryKey: ['shoots', id, 'aside'], queryFn: () => aside(id) })
  const act = useMutation({
    meta: { inPlace: true },
    mutationFn: (asked: Asked) => changeAside(id, asked),
    onSettled: () => {
      for (const key of [['shoots'], ['pass', id], ['frames', 'shoot', id]])
        void queries.invalidateQueries({ queryKey: key })
    },
  })
  if (!shoot.data || !told.data) return <Waiting error={shoot.error ?? told.error} />
  const { struck, set_aside: set, in_trash: trash, moving, notes } = told.data
  const places = shoot.data.places.length
  const folder = `${shoot.data.folder.split('/').at(-1) ?? ''}, set aside`
  const isNothing = struck.frames + set.frames + trash.frames + moving === 0
  const bringBack = (frames: number[]) => {
    act.mutate({ do: 'bring_back', frames })
  }
  return (
    <div className="page pb-16">
      <title>{`${texts.titleOf(shoot.data.name)} · Velvet Ledger`}</title>
      <div className="pt-5 pb-1 text-[13px]">
        <Link to="/shoots" className="link">
          {texts.back}
        </Link>{' '}
        ›{' '}
        <Link to={`/shoots/${id}`} className="link">
          {shoot.data.name}
        </Link>
      </div>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <Heading>{texts.title}</Heading>
        <p className="text-soft">{shoot.data.day ? day(shoot.data.day) : 'undated'}</p>
        <p role="status" className="ml-auto text-soft">
          {moving > 0 && texts.moving(moving)}
        </p>
      </div>
      <Refusal of={act.error} />
      {(act.data?.left ?? []).concat(notes).map((note) => (
        <Trouble key={note}>{note}</Trouble>
      ))}
      {struck.frames > 0 && (
        <Part
          id={id}
          part="struck"
          sum={struck}
          isBusy={act.isPending}
          onAct={(frames) => {
            act.mutate({ do: 'set_aside', frames })
          }}
        >
          <span className="text-soft">{texts.struck.about(folder, places)}</span>
        </Part>
      )}
      {set.frames > 0 && (
        <Part id={id} part="set_aside" sum={set} isBusy={act.isPending} onAct={bringBack}>
          <Sure
            ask={texts.set_aside.ask}
            says={texts.set_aside.says(set)}
            act={texts.set_aside.sure}
            isBusy={act.isPending}
            onAct={() => {
              act.mutate({ do: 'throw_away', files: set.files })
            }}
          />
          <Sure
            ask={texts.set_aside.forget}
            says={texts.set_aside.forgetSays(set)}
            act={texts.set_aside.forgetSure}
            isBusy={act.isPending}
            onAct={() => {
              act.mutate({ do: 'forget', files: set.files })
            }}
          />
        </Part>
      )}
      {trash.frames > 0 && (
        <Part id={id} part="in_trash" sum={trash} isBusy={act.isPending} onAct={bringBack}>
          <Sure
            ask={texts.in_trash.ask}
            says={texts.in_trash.says(trash, places)}
            act={texts.in_trash.sure(trash)}
            isBusy={act.isPending}
            onAct={() => {
              act.mutate({ do: 'delete', files: trash.files })
            }}
          />
        </Part>
      )}
      {isNothing && (
        <Nothing title={texts.nothing.title}>
          <p className="mb-3">{texts.nothing.about}</p>
          <Link to={`/shoots/${id}/first-look`} className="link">
            {texts.nothing.way}
          </Link>
        </Nothing>
      )}
    </div>
  )
}

/** Frames that are struck, or kept together outside of the shoot, and what can be done with them. */
function Part({
  id,
  part,
  sum,
  isBusy,
  onAct,
  children,
}: {
  id: number
  part: AsidePart
  sum: AsideSum
  isBusy: boolean
  onAct: (frames: number[]) => void
  children: ReactNode
}) {
  const ids = sum.frame_ids
  const frames = useShootFrames(id, sum.frames, {
    key: part,
    fetch: (offset, limit) => asideFrames(id, part, offset, limit),
  })
  const selection = useSelection(useMemo(() => [{ number: 1, frames: ids }], [ids]))
  const [current, setCurrent] = useState(0)
  const [isLooking, setIsLooking] = useState(false)
  const selected = ids.filter((frame) => selection.ids.has(frame))
  const meant = selected.length > 0 ? selected : ids
  return (
    <section aria-label={texts[part].title(sum.frames)} className="mb-8 border-t border-rule-strong pt-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-[19px]">{texts[part].title(sum.frames)}</h2>
        <span className="text-soft">{texts.size(sum)}</span>
      </div>
      <p className="my-1.5 flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <button
          type="button"
          className={classes('button', part === 'struck' && 'button-main')}
          disabled={isBusy}
          onClick={() => {
            onAct(meant)
            selection.clear()
          }}
        >
          {texts[part].act(meant.length, selected.length === 0 && meant.length > 1)}
        </button>
        {children}
      </p>
      <ContactSheet
        frames={frames}
        label={texts[part].label}
        current={Math.min(current, Math.max(0, sum.frames - 1))}
        onCurrent={setCurrent}
        onLook={(position) => {
          setCurrent(position)
          setIsLooking(true)
        }}
        selecting={{
          has: (position) => selection.ids.has(ids[position] ?? -1),
          press: (position, way) => {
            selection.press(1, position, way)
          },
          set: (positions, add) => {
            selection.set(1, positions, add)
          },
        }}
        tallest="calc(100vh - 300px)"
      />
      {isLooking && (
        <Look
          frames={frames}
          position={current}
          onMove={setCurrent}
          onClose={() => {
            setIsLooking(false)
          }}
          more={(position) => {
            const frame = frames.at(position)
            return frame && <Custody key={frame.id} frame={frame.id} />
          }}
        />
      )}
    </section>
  )
}
