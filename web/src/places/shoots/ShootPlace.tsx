import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { api, type ShootFrame } from '../../api/client'
import { useFrameWindow, type FrameWindow } from '../../api/frames'
import { ContactSheet } from '../../parts/ContactSheet'
import type { Seen } from '../../parts/Frame'
import { Look } from '../../parts/Look'
import { Waiting } from '../../parts/Trouble'
import { bytes, day, plural } from '../../parts/words'
import { Custody } from './Custody'
import { TwinState } from './ShootsPlace'

/** A shoot's contact sheet. */
export function ShootPlace() {
  const id = Number(useParams().id)
  const shoot = useQuery({ queryKey: ['shoots', id], queryFn: () => api.shoot(id) })
  const frames = useShootFrames(id, shoot.data?.frames ?? 0)
  const [current, setCurrent] = useState(0)
  const [looking, setLooking] = useState(false)
  if (!shoot.data) return <Waiting error={shoot.error} />
  const look = (position: number) => {
    setCurrent(position)
    setLooking(true)
  }
  return (
    <div className="page pb-6">
      <div className="pt-5 pb-1 text-[13px]">
        <Link to="/shoots" className="link">Shoots</Link>
      </div>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 className="text-[28px]">{shoot.data.name}</h1>
        <p className="text-soft">
          {shoot.data.day ? day(shoot.data.day) : 'undated'} · {plural(shoot.data.frames, 'frame')}, {bytes(shoot.data.bytes)}
        </p>
        <span className="ml-auto">
          <TwinState shoot={shoot.data} />
        </span>
      </div>
      <ul className="mt-1 mb-4 text-[13px] text-soft">
        {shoot.data.places.map((place) => (
          <li key={place} className="break-all">{place}</li>
        ))}
      </ul>
      <ContactSheet frames={frames} label={`Contact sheet of ${shoot.data.name}`} current={current} onCurrent={setCurrent} onLook={look} tallest="calc(100vh - 210px)" />
      {looking && <Look frames={frames} position={current} onMove={setCurrent} onClose={() => { setLooking(false) }} more={(position) => { const frame = frames.at(position); return frame && <Custody key={frame.id} frame={frame.id} /> }} />}
    </div>
  )
}

function useShootFrames(id: number, count: number): FrameWindow<Seen & { id: number }> {
  const window = useFrameWindow<ShootFrame>(['frames', 'shoot', id], count, (offset, limit) => api.shootFrames(id, offset, limit))
  return {
    ...window,
    at: (position) => {
      const frame = window.at(position)
      return (
        frame && {
          ...frame,
          state: 'kept',
          kinds: [...new Set(frame.files.map((file) => (file.kind === 'raw' ? 'raw' : file.kind.toUpperCase())))].join(' + '),
          problems: [],
          lines: frame.files.map((file) => `${file.path}   ${bytes(file.bytes)}   ${file.digest}   from ${file.from}`),
        }
      )
    },
  }
}
