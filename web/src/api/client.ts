import type { components } from './schema'

type Schemas = components['schemas']
export type Bays = Schemas['Bays']
export type Card = Schemas['Card']
export type Clearance = Schemas['Clearance']
export type Folders = Schemas['Folders']
export type Shelf = Schemas['Shelf']
export type Sheet = Schemas['Sheet']
export type Edited = Schemas['Edited']
export type Entry = Schemas['Entry']
export type Progress = Schemas['Progress']
export type Facts = Schemas['Facts']
export type SheetFrame = Schemas['SheetFrame']
export type FrameGroup = Schemas['FrameGroup']
/** A file as the receipt has it. */
export type ReceiptLine = Schemas['ReceiptLine']
export type Says = Schemas['Says']
export type MetadataField = Schemas['Field']
export type OtherFile = Schemas['OtherFile']
export type Witness = Schemas['Witness']
export type CustodyLine = Schemas['CustodyLine']
export type Shoot = Schemas['Shoot']
export type ShootFrame = Schemas['ShootFrame']
export type Ledger = Schemas['Ledger']
export type Backup = Schemas['Backup']
export type Keyword = Schemas['Keyword']
export type SelectionSays = Schemas['SelectionSays']
export type SelectionRaws = Schemas['SelectionRaws']
/** What is done with the raw files of a selection. */
export type Conversion = 'beside' | 'embed' | 'take_out'
export type OutsideChange = Schemas['OutsideChange']
export type Style = Schemas['Style']
export type Styles = Schemas['Styles']
export type StyleSample = Schemas['StyleSample']
export type Piece = Schemas['Piece']
export type Divide = Schemas['Divide']
export type Tape = {
  number: number
  frames: number[]
  cameras: string[]
  ticks: (number | null)[]
  brightness: (number | null)[]
}[]

/** The tape with the revision of the sheet that it is of. */
export interface ToldTape {
  revision: number
  entries: Tape
}

/** One edit on a sheet by hand; frames by their id, and entries by a frame that lies in them. */
export type Edit =
  | { do: 'split'; frame: number }
  | { do: 'join'; frame: number }
  | { do: 'move'; frames: number[]; to: number | null }
  | { do: 'leave_out' | 'take_back'; frames: number[] }
  | { do: 'clock'; camera: string; seconds: number }
  | { do: 'undo' | 'redo' }

/** What holds for a whole sheet. */
export interface SheetChange {
  shelf?: number
  style?: string
  divide?: Divide
  kinds?: Sheet['kinds']
  companions?: boolean
}
/** What is typed and chosen for an entry. */
export interface EntryChange {
  name?: string
  kind?: string
  client?: string
  trip?: string
  strays?: boolean
  description?: string
  rights?: string
  dng?: Style['dng'] | ''
  add_keywords?: string[]
  remove_keywords?: string[]
  into?: number | null
}

/** What is changed for a selection of filed frames. */
export interface SelectionChange {
  frames: number[]
  texts?: Partial<Record<MetadataField, string>>
  add?: string[]
  remove?: number[]
  rating?: number
}
export type Order = 'copy' | 'pause' | 'resume' | 'stop' | 'retry'

/** An answer that says why something could not be done; its message is a sentence for people. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message)
  }
}

async function ask<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch {
    throw new Refused(
      'Velvet Ledger does not answer. It may be starting again; what was being copied goes on by itself.',
      0,
    )
  }
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as { detail?: string } | null
    throw new Refused(problem?.detail ?? `The server answered with ${response.status}.`, response.status)
  }
  const text = await response.text()
  return (text === '' ? undefined : JSON.parse(text)) as T
}

function send<T>(
  method: 'POST' | 'PATCH' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
  keepalive = false,
): Promise<T> {
  return ask<T>(path, {
    method,
    keepalive,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body ?? {}),
  })
}

export const api = {
  bays: () => ask<Bays>('/api/bays'),
  folders: (path: string) => ask<Folders>(`/api/folders?path=${encodeURIComponent(path)}`),
  addShelf: (name: string, root: string, twin: string | null) =>
    send<Bays>('POST', '/api/shelves', { name, root, twin }),
  changeShelf: (id: number, name: string, twin: string | null) =>
    send<Bays>('PATCH', `/api/shelves/${id}`, { name, twin }),
  putInDemoCard: (label: string) => send<undefined>('POST', `/api/demo/cards/${encodeURIComponent(label)}/in`),
  eject: (card: number) => send<undefined>('POST', `/api/cards/${card}/eject`),
  letGo: (card: number) => send<Clearance & { frames: number }>('POST', `/api/cards/${card}/let-go`),
  oneDriveIsEnough: (card: number) => send<Clearance>('POST', `/api/cards/${card}/one-drive-is-enough`),
  lookAtCard: (card: number) => send<Clearance>('POST', `/api/cards/${card}/look`),
  openSheet: (cards: number[]) => send<{ id: number }>('POST', '/api/sheets', { cards }),
  sheet: (id: number) => ask<Sheet>(`/api/sheets/${id}`),
  tape: (id: number) => ask<ToldTape>(`/api/sheets/${id}/tape`),
  changeSheet: (id: number, change: SheetChange) => send<Edited>('PATCH', `/api/sheets/${id}`, change),
  changeEntry: (id: number, frame: number, change: EntryChange) =>
    send<Edited>('PATCH', `/api/sheets/${id}/frames/${frame}/entry`, change, true),
  editSheet: (id: number, edit: Edit) => send<Edited>('POST', `/api/sheets/${id}/edits`, edit),
  order: (id: number, order: Order) => send<Sheet>('POST', `/api/sheets/${id}/${order}`),
  framesById: (id: number, frames: number[]) =>
    ask<{ frames: SheetFrame[] }>(`/api/sheets/${id}/frames?of=${frames.join(',')}`).then((answer) => answer.frames),
  sheetFrames: (id: number, number: number, offset: number, limit: number) =>
    ask<{ frames: SheetFrame[] }>(`/api/sheets/${id}/entries/${number}/frames?offset=${offset}&limit=${limit}`).then(
      (answer) => answer.frames,
    ),
  frameGroups: (id: number, number: number) =>
    ask<{ groups: FrameGroup[] }>(`/api/sheets/${id}/entries/${number}/groups`).then((answer) => answer.groups),
  receipt: (id: number) => ask<{ files: ReceiptLine[]; seal?: string }>(receiptUrl(id, 'json')),
  says: (id: number, number: number) =>
    ask<{ frame: string | null; says: Says | null }>(`/api/sheets/${id}/entries/${number}/says`),
  others: (id: number) => ask<{ files: OtherFile[] }>(`/api/sheets/${id}/others`).then((answer) => answer.files),
  witness: (id: number) => ask<{ pairs: Witness[] }>(`/api/sheets/${id}/witness`).then((answer) => answer.pairs),
  custody: (frame: number) =>
    ask<{ lines: CustodyLine[] }>(`/api/frames/${frame}/custody`).then((answer) => answer.lines),
  keywords: () => ask<{ keywords: Keyword[] }>('/api/keywords').then((answer) => answer.keywords),
  keywordsMeant: (by: string) =>
    ask<{ keywords: { path: string; by: string | null; private: boolean }[] }>(
      `/api/keywords/meant?by=${encodeURIComponent(by)}`,
    ).then((answer) => answer.keywords),
  addKeyword: (path: string) =>
    send<{ keywords: Keyword[] }>('POST', '/api/keywords', { path }).then((answer) => answer.keywords),
  changeKeyword: (
    id: number,
    change: Partial<Pick<Keyword, 'name' | 'heading' | 'private' | 'with_above' | 'synonyms'>> & {
      above?: string
    },
  ) => send<{ keywords: Keyword[] }>('PATCH', `/api/keywords/${id}`, change).then((answer) => answer.keywords),
  mergeKeyword: (id: number, into: number) =>
    send<{ keywords: Keyword[] }>('POST', `/api/keywords/${id}/merge`, { into }).then((answer) => answer.keywords),
  deleteKeyword: (id: number) =>
    send<{ keywords: Keyword[] }>('DELETE', `/api/keywords/${id}`).then((answer) => answer.keywords),
  importKeywords: (file: File) =>
    ask<{ added: number; read: number; problems: string[]; keywords: Keyword[] }>(
      `/api/keywords/import?name=${encodeURIComponent(file.name)}`,
      { method: 'POST', body: file },
    ),
  lookAtShoot: (id: number) => send<undefined>('POST', `/api/shoots/${id}/look`, {}),
  selectionSays: (id: number, frames: number[]) => send<SelectionSays>('POST', `/api/shoots/${id}/says`, { frames }),
  changeSelection: (id: number, change: SelectionChange) =>
    send<SelectionSays>('PATCH', `/api/shoots/${id}/says`, change),
  selectionRaws: (id: number, frames: number[]) => send<SelectionRaws>('POST', `/api/shoots/${id}/raws`, { frames }),
  convertSelection: (id: number, frames: number[], what: Conversion) =>
    send<SelectionRaws>('POST', `/api/shoots/${id}/dng`, { frames, do: what }),
  undoChange: (id: number) => send<Shoot>('POST', `/api/shoots/${id}/undo`, {}),
  outsideChanges: (id: number) =>
    ask<{ changes: OutsideChange[] }>(`/api/shoots/${id}/outside`).then((answer) => answer.changes),
  settleOutside: (file: number, keep: 'theirs' | 'ours') =>
    send<undefined>('POST', `/api/files/${file}/outside`, { keep }),
  shoots: () => ask<{ shoots: Shoot[] }>('/api/shoots').then((answer) => answer.shoots),
  shoot: (id: number) => ask<Shoot>(`/api/shoots/${id}`),
  shootLight: (id: number) => ask<{ light: (number | null)[] }>(`/api/shoots/${id}/light`),
  shootFrames: (id: number, offset: number, limit: number) =>
    ask<{ frames: ShootFrame[] }>(`/api/shoots/${id}/frames?offset=${offset}&limit=${limit}`).then(
      (answer) => answer.frames,
    ),
  ledger: () => ask<Ledger>('/api/ledger'),
  backup: () => ask<Backup>('/api/backups'),
  makeBackup: () => send<undefined>('POST', '/api/backups'),
  styles: () => ask<Styles>('/api/styles'),
  addStyle: (style: Style) => send<Styles>('POST', '/api/styles', { style }),
  saveStyle: (name: string, style: Style) =>
    send<Styles>('PUT', `/api/styles/${encodeURIComponent(name)}`, { style }, true),
  removeStyle: (name: string) => send<Styles>('DELETE', `/api/styles/${encodeURIComponent(name)}`),
  makeStandard: (name: string) => send<Styles>('POST', `/api/styles/${encodeURIComponent(name)}/standard`),
  styleSamples: (style: Style) =>
    send<{ samples: StyleSample[] }>('POST', '/api/styles/samples', { style }).then((answer) => answer.samples),
  nameCamera: (camera: string, name: string) => send<undefined>('PUT', '/api/cameras', { camera, name }),
}

/** The receipt of an intake as a file, or of one entry of it. */
export function receiptUrl(
  sheet: number,
  format: 'xxh128' | 'sha256' | 'b2' | 'mhl' | 'csv' | 'json',
  entry?: number,
): string {
  return `/api/sheets/${sheet}/receipt.${format}${entry === undefined ? '' : `?entry=${entry}`}`
}

/** Where the web server keeps a frame's picture. */
/** Where a movie is played from, by its fingerprint. */
export function recordingUrl(fingerprint: string): string {
  return `/api/recordings/${fingerprint}`
}

export function pictureUrl(size: 320 | 1024 | 2560, fingerprint: string): string {
  return `/pictures/${size}/${fingerprint.slice(0, 2)}/${fingerprint.slice(2)}.jpg`
}
