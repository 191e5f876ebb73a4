import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { useLocation, useParams, useSearchParams } from 'react-router'
import { api } from '../../api/client'
import { texts } from './texts'

/** What a first look goes through, as its address says. */
export interface LookedAt {
  name: string
  /** Ids. */
  shoots: readonly number[]
  /** The intake whose frames are meant alone; null: all of the shoots'. */
  intake: number | null
  /** Where one goes back to. */
  back: { to: string; word: string; label: string }
  /** The name of one of the shoots. */
  nameOf: (shoot: number) => string
}

/** `/shoots/2/first-look`, `/sheets/3/first-look` for what an intake filed, or `/first-look?shoots=2,5&words=kiln`. */
export function useLookedAt(): { at: LookedAt | undefined; error: Error | null } {
  const id = Number(useParams().id)
  const isSheet = useLocation().pathname.startsWith('/sheets/')
  const isShoot = !isSheet && !Number.isNaN(id)
  const [given] = useSearchParams()
  const shoot = useQuery({ queryKey: ['shoots', id], queryFn: () => api.shoot(id), enabled: isShoot })
  const sheet = useQuery({ queryKey: ['sheet', id], queryFn: () => api.sheet(id), enabled: isSheet })
  const all = useQuery({ queryKey: ['shoots'], queryFn: api.shoots, enabled: !isShoot && !isSheet })
  const error = shoot.error ?? sheet.error ?? all.error
  const at = useMemo((): LookedAt | undefined => {
    if (isShoot) {
      return (
        shoot.data && {
          name: shoot.data.name,
          shoots: [id],
          intake: null,
          back: { to: `/shoots/${id}`, ...texts.back.shoot },
          nameOf: () => shoot.data.name,
        }
      )
    }
    if (isSheet) {
      const looks = sheet.data?.first_looks ?? []
      return (
        sheet.data && {
          name: texts.intake(sheet.data.cards.map(({ label }) => label)),
          shoots: looks.map(({ shoot }) => shoot),
          intake: id,
          back: { to: `/sheets/${id}`, ...texts.back.sheet },
          nameOf: (shoot) => looks.find((look) => look.shoot === shoot)?.name ?? '',
        }
      )
    }
    const asked = new Set((given.get('shoots') ?? '').split(',').map(Number))
    const shoots = all.data?.filter((shoot) => asked.has(shoot.id))
    return (
      shoots && {
        name: texts.several(given.get('words') ?? '', shoots.length),
        shoots: shoots.map((shoot) => shoot.id),
        intake: null,
        back: { to: '/shoots', ...texts.back.shoots },
        nameOf: (shoot) => shoots.find((one) => one.id === shoot)?.name ?? '',
      }
    )
  }, [id, isShoot, isSheet, given, shoot.data, sheet.data, all.data])
  return { at, error }
}
