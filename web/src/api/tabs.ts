import { http, listed, of } from './client'
import type { components } from './schema'

type Schemas = components['schemas']
export type Tab = Schemas['Tab']
export type TabColour = Schemas['TabColour']
export type TabWriting = Schemas['TabWriting']
/** A new one without a colour gets the one that fewest have. */
export type TabSaid = Pick<Tab, 'name' | 'writes'> & { colour?: TabColour }

export const tabs = () => listed(http.GET('/api/tabs'), 'tabs')
export const addTab = (tab: TabSaid) => listed(http.POST('/api/tabs', { body: tab }), 'tabs')
export const changeTab = (id: number, tab: TabSaid) =>
  listed(http.PATCH('/api/tabs/{id}', { ...of({ id }), body: tab }), 'tabs')
export const deleteTab = (id: number) => listed(http.DELETE('/api/tabs/{id}', of({ id })), 'tabs')
