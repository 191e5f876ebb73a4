import { http, listed, of, told } from './client'
import type { components } from './schema'

type Schemas = components['schemas']
export type Aside = Schemas['Aside']
export type AsideSum = Schemas['AsideSum']
export type AsideAct = 'set_aside' | 'bring_back' | 'throw_away' | 'delete' | 'forget'
export type AsidePart = 'struck' | 'set_aside' | 'in_trash'

export const aside = (id: number) => told(http.GET('/api/shoots/{id}/aside', of({ id })))
export const changeAside = (id: number, body: { do: AsideAct; frames?: number[]; files?: number }) =>
  told(http.POST('/api/shoots/{id}/aside', { ...of({ id }), body }))
export const asideFrames = (id: number, part: AsidePart, offset: number, limit: number) =>
  listed(
    http.GET('/api/shoots/{id}/frames', { params: { path: { id }, query: { lot: part, offset, limit } } }),
    'frames',
  )
