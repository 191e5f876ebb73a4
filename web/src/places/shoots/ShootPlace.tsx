import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { api, type Judgement } from '../../api/client'
import { useShootFrames } from '../../parts/shoot-frames'
import { ContactSheet, type Selecting } from '../../parts/ContactSheet'
import { Heading } from '../../parts/Heading'
import { act } from '../../keys/keys'
import { useKeys } from '../../keys/useKeys'
import { selected as named } from '../../model/selected'
import { Look } from '../../parts/Look'
import type { Run } from '../../parts/playback'
import { RunPlayer } from '../../parts/RunPlayer'
import { useSelection } from '../../parts/selection'
import { Rotate } from '../../parts/Rotate'
import { Refusal, Waiting } from '../../parts/Trouble'
import { whoJudges } from '../../parts/who'
import { day } from '../../parts/words'
import { Custody } from './Custody'
import { Outside } from './Outside'
import { SelectionSays } from './SelectionSays'
import { TwinState } from './ShootsPlace'
import { texts } from './texts'

const says = texts.shoot

/** A shoot's contact sheet. */
export function ShootPlace() {
  const id = Number(useParams().id)
  const shoot = useQuery({ queryKey: ['shoots', id], queryFn: () => api.shoot(id) })
  const frames = useShootFrames(id, shoot.data?.frames ?? 0)
  const [current, setCurrent] = useState(0)
  const [looking, setLooking] = useState(false)
  const [run, setRun] = useState<Run | null>(null)
  const measured = useQuery({
    queryKey: ['shoots', id, 'light'],
    queryFn: () => api.shootLight(id),
    enabled: run !== null,
  })
  const light = useMemo(
    () => (run?.positions ?? []).map((position) => measured.data?.[position] ?? null),
    [run, measured.data],
  )
  const ids = shoot.data?.frame_ids
  const selection = useSelection(useMemo(() => [{ number: 1, frames: ids ?? [] }], [ids]))
  const queries = useQueryClient()
  const done = () => void queries.invalidateQueries({ queryKey: ['shoots', id] })
  const undo = useMutation({ meta: { inPlace: true }, mutationFn: () => api.undoChange(id), onSuccess: done })
  const redo = useMutation({ meta: { inPlace: true }, mutationFn: () => api.redoChange(id), onSuccess: done })
  const judge = useMutation({
    meta: { inPlace: true },
    mutationFn: ({ frames: meant, ...judgement }: Judgement) =>
      api.judge(id, [{ by: whoJudges(), ...judgement, ...named(meant, ids ?? []) }]),
    scope: { id: `says of shoot ${id}` },
    onSuccess: done,
  })
  const undoable = shoot.data?.undo ?? null
  const again =
    shoot.data?.redo == null
      ? undefined
      : () => {
          redo.mutate()
        }
  const back =
    undoable === null
      ? undefined
      : () => {
          undo.mutate()
        }
  useKeys('sheet', { undo: back, redo: again, redoToo: again })
  useEffect(() => {
    // the answer comes by the feed
    void api.lookAtShoot(id).catch(() => undefined)
  }, [id])
  if (!shoot.data) return <Waiting error={shoot.error} />
  const look = (position: number) => {
    setCurrent(position)
    setLooking(true)
  }
  const selected = [...selection.ids]
  const selecting: Selecting = {
    has: (position) => selection.ids.has(ids?.[position] ?? -1),
    press: (position, way) => {
      selection.press(1, position, way)
    },
    set: (positions, add) => {
      selection.set(1, positions, add)
    },
    onKey: (event, position) => {
      const here = ids?.[position]
      const meant = selected.length > 0 ? selected : here === undefined ? [] : [here]
      const say = (judgement: Omit<Judgement, 'frames'>) => () => {
        if (meant.length > 0) judge.mutate({ frames: meant, ...judgement })
      }
      act('filed', event, {
        keep: say({ verdict: 'kept' }),
        strike: say({ verdict: 'struck' }),
        open: say({ verdict: 'open' }),
        stars: ({ key }) => {
          say({ stars: Number(key) })()
        },
        rotateRight: say({ rotate: 'right' }),
        rotateLeft: say({ rotate: 'left' }),
      })
    },
  }
  return (
    <>
      <div className="page pb-4">
        <div className="pt-5 pb-1 text-[13px]">
          <Link to="/shoots" className="link">
            {texts.all.title}
          </Link>
        </div>
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
          <Heading>{shoot.data.name}</Heading>
          <p className="text-soft">
            {shoot.data.day ? day(shoot.data.day) : texts.all.undated} ·{' '}
            {says.size(shoot.data.frames, shoot.data.bytes)}
          </p>
          {shoot.data.waiting > 0 && (
            <span className="text-soft" role="status">
              {says.writing(shoot.data.waiting)}
            </span>
          )}
          <span className="ml-auto">
            <TwinState shoot={shoot.data} />
          </span>
          <Link to={`/shoots/${id}/first-look`} className="button button-main">
            {says.firstLook(shoot.data.open)}
          </Link>
        </div>
        <ul className="mt-1 mb-4 text-[13px] text-soft">
          {shoot.data.places.map((place) => (
            <li key={place} className="wrap-anywhere">
              {place}
            </li>
          ))}
        </ul>
        {shoot.data.struck + shoot.data.aside > 0 && (
          <p className="-mt-2 mb-4 flex flex-wrap gap-x-6">
            {shoot.data.struck > 0 && (
              <Link to={`/shoots/${id}/set-aside`} className="link">
                {texts.toStruck(shoot.data.struck)}
              </Link>
            )}
            {shoot.data.aside > 0 && (
              <Link to={`/shoots/${id}/set-aside`} className="link">
                {texts.toAside(shoot.data.aside)}
              </Link>
            )}
          </p>
        )}
        <Refusal of={undo.error ?? redo.error} />
        <Refusal of={judge.error} />
        <Outside shoot={id} count={shoot.data.outside} />
        <ContactSheet
          frames={frames}
          label={says.contactSheet(shoot.data.name)}
          current={current}
          onCurrent={setCurrent}
          onLook={look}
          selecting={selecting}
          tallest="calc(100vh - 270px)"
          tools={
            <>
              {ids && ids.length > 1 && (
                <button
                  type="button"
                  className="link text-[13px]"
                  onClick={() => {
                    const chosen = ids.flatMap((frame, position) => (selection.ids.has(frame) ? [position] : []))
                    setRun({
                      positions: chosen.length > 1 ? chosen : ids.map((_, position) => position),
                      marks: [],
                      start: 0,
                    })
                  }}
                >
                  {says.play(selected.length)}
                </button>
              )}
              {selected.length > 0 && (
                <Rotate
                  label={says.rotate}
                  onRotate={(rotate) => {
                    judge.mutate({ frames: selected, rotate })
                  }}
                />
              )}
            </>
          }
        />
        {run && (
          <RunPlayer
            title={says.frames(shoot.data.name)}
            frames={frames}
            run={run}
            light={light}
            onClose={() => {
              setRun(null)
            }}
          />
        )}
        {looking && (
          <Look
            frames={frames}
            position={current}
            onMove={setCurrent}
            onClose={() => {
              setLooking(false)
            }}
            more={(position) => {
              const frame = frames.at(position)
              return frame && <Custody key={frame.id} frame={frame.id} />
            }}
          />
        )}
      </div>
      {ids && ids.length > 0 && (
        <SelectionSays
          shoot={id}
          frames={selected}
          all={ids}
          onAll={() => {
            selection.set(
              1,
              ids.map((_, position) => position),
              false,
            )
          }}
          onClear={selection.clear}
          undo={undoable}
          onUndo={() => {
            undo.mutate()
          }}
        />
      )}
    </>
  )
}
