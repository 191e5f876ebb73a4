import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

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
export type Verdict = Schemas['Verdict']
export type Judged = Schemas['Judged']
export type Pass = Schemas['Pass']
export type PassFrame = Pass['frames'][number]
export type PassGroup = Pass['groups'][number]
export type ShootFrame = Schemas['ShootFrame']
export type Ledger = Schemas['Ledger']
export type Backup = Schemas['Backup']
export type Keyword = Schemas['Keyword']
export type SelectionSays = Schemas['SelectionSays']
export type SelectionRaws = Schemas['SelectionRaws']
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

/** What is sent to an operation. */
type Sent<T> = T extends { requestBody: { content: { 'application/json': infer Body } } } ? Body : never
/** One edit on a sheet by hand; frames by their id, and entries by a frame that lies in them. */
export type SentEdit = Sent<paths['/api/sheets/{id}/edits']['post']>
type Frames = { do: 'leave_out' | 'take_back'; frames: number[] } | { do: 'move'; frames: number[]; to: number | null }
/** An edit as the page knows it: each of its frames by its id. */
export type Edit = Exclude<SentEdit, { do: Frames['do'] }> | Frames
/** What holds for a whole sheet. */
export type SheetChange = Sent<paths['/api/sheets/{id}']['patch']>
/** What is typed and chosen for an entry. */
export type EntryChange = Sent<paths['/api/sheets/{id}/frames/{frame}/entry']['patch']>
/** Filed frames of a shoot as a request names them. */
export type Selected = Schemas['Selection']
/** What is changed for a selection of filed frames. */
export type SelectionChange = Sent<paths['/api/shoots/{id}/says']['patch']>
/** A verdict, stars and tabs for frames of a shoot. */
export type Judgement = Schemas['Judgement'] & { frames: number[] }
/** What is done with the raw files of a selection. */
export type Conversion = Sent<paths['/api/shoots/{id}/dng']['post']>['do']
export type Order = paths['/api/sheets/{id}/{order}']['post']['parameters']['path']['order']

/** An answer that says why something could not be done; its message is a sentence for people. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message)
  }
}

const UNANSWERED = 'Velvet Ledger does not answer. It may be starting again; what was being copied goes on by itself.'

export const http = createClient<paths>({ baseUrl: location.origin, fetch: (request) => fetch(request) })
http.use({
  onError: () => new Refused(UNANSWERED, 0),
  onResponse: async ({ response }) => {
    if (response.ok) return
    const problem = (await response.json().catch(() => null)) as { detail?: string } | null
    throw new Refused(problem?.detail ?? `The server answered with ${response.status}.`, response.status)
  },
})

/** What was answered; all that is no success was thrown before. */
export async function told<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T
}

/** Of an answer that holds a list under a name, the list. */
export async function listed<K extends string, T>(answer: Promise<{ data?: Record<K, T> }>, name: K): Promise<T> {
  return (await told(answer))[name]
}

export const of = <T extends Record<string, unknown>>(path: T) => ({ params: { path } })

/** What is asked for again under the same key is not done a second time. */
const once = <T extends Record<string, unknown>>(path: T, key: string) => ({
  params: { path, header: { 'Idempotency-Key': key } },
})

/**
 * A body that still goes out when its page is left. The Fetch standard lets 64 KiB do so; a longer one would be refused
 * as if the server did not answer.
 */
const lasting = <B>(body: B): { body: B; keepalive: boolean } => ({
  body,
  keepalive: JSON.stringify(body).length < 60_000,
})

export const api = {
  bays: () => told(http.GET('/api/bays')),
  folders: (path: string) => told(http.GET('/api/folders', { params: { query: { path } } })),
  addShelf: (name: string, root: string, twin: string | null) =>
    told(http.POST('/api/shelves', { body: { name, root, twin } })),
  changeShelf: (id: number, name: string, twin: string | null) =>
    told(http.PATCH('/api/shelves/{id}', { ...of({ id }), body: { name, twin } })),
  putInDemoCard: (label: string) => told(http.POST('/api/demo/cards/{label}/in', of({ label }))),
  eject: (id: number) => told(http.POST('/api/cards/{id}/eject', of({ id }))),
  letGo: (id: number) => told(http.POST('/api/cards/{id}/let-go', of({ id }))),
  oneDriveIsEnough: (id: number) => told(http.POST('/api/cards/{id}/one-drive-is-enough', of({ id }))),
  lookAtCard: (id: number) => told(http.POST('/api/cards/{id}/look', of({ id }))),
  openSheet: (cards: number[]) => told(http.POST('/api/sheets', { body: { cards } })),
  sheet: (id: number) => told(http.GET('/api/sheets/{id}', of({ id }))),
  tape: (id: number) => told(http.GET('/api/sheets/{id}/tape', of({ id }))),
  changeSheet: (id: number, change: SheetChange, key: string) =>
    told(http.PATCH('/api/sheets/{id}', { ...once({ id }, key), ...lasting(change) })),
  changeEntry: (id: number, frame: number, change: EntryChange, key: string) =>
    told(http.PATCH('/api/sheets/{id}/frames/{frame}/entry', { ...once({ id, frame }, key), ...lasting(change) })),
  editSheet: (id: number, edit: SentEdit, key: string) =>
    told(http.POST('/api/sheets/{id}/edits', { ...once({ id }, key), ...lasting(edit) })),
  order: (id: number, order: Order) => told(http.POST('/api/sheets/{id}/{order}', of({ id, order }))),
  framesById: (id: number, frames: number[]) =>
    listed(
      http.GET('/api/sheets/{id}/frames', { params: { path: { id }, query: { of: frames.join(',') } } }),
      'frames',
    ),
  sheetFrames: (id: number, number: number, offset: number, limit: number) =>
    listed(
      http.GET('/api/sheets/{id}/entries/{number}/frames', {
        params: { path: { id, number }, query: { offset, limit } },
      }),
      'frames',
    ),
  frameGroups: (id: number, number: number) =>
    listed(http.GET('/api/sheets/{id}/entries/{number}/groups', of({ id, number })), 'groups'),
  receipt: (id: number) =>
    told(http.GET('/api/sheets/{id}/receipt.{format}', of({ id, format: 'json' }))) as Promise<Schemas['Receipt']>,
  says: (id: number, number: number) => told(http.GET('/api/sheets/{id}/entries/{number}/says', of({ id, number }))),
  others: (id: number) => listed(http.GET('/api/sheets/{id}/others', of({ id })), 'files'),
  witness: (id: number) => listed(http.GET('/api/sheets/{id}/witness', of({ id })), 'pairs'),
  custody: (id: number) => listed(http.GET('/api/frames/{id}/custody', of({ id })), 'lines'),
  keywords: () => listed(http.GET('/api/keywords'), 'keywords'),
  keywordsMeant: (by: string) => listed(http.GET('/api/keywords/meant', { params: { query: { by } } }), 'keywords'),
  addKeyword: (path: string) => listed(http.POST('/api/keywords', { body: { path } }), 'keywords'),
  changeKeyword: (
    id: number,
    change: Partial<Pick<Keyword, 'name' | 'heading' | 'private' | 'with_above' | 'synonyms'>> & { above?: string },
  ) => listed(http.PATCH('/api/keywords/{id}', { ...of({ id }), body: change }), 'keywords'),
  mergeKeyword: (id: number, into: number) =>
    listed(http.POST('/api/keywords/{id}/merge', { ...of({ id }), body: { into } }), 'keywords'),
  deleteKeyword: (id: number) => listed(http.DELETE('/api/keywords/{id}', of({ id })), 'keywords'),
  importKeywords: (file: File) =>
    told(
      http.POST('/api/keywords/import', {
        params: { query: { name: file.name } },
        body: '',
        bodySerializer: () => file, // as it is: its coding is the server's to tell
      }),
    ),
  lookAtShoot: (id: number) => told(http.POST('/api/shoots/{id}/look', of({ id }))),
  selectionSays: (id: number, meant: Selected) =>
    told(http.POST('/api/shoots/{id}/says', { ...of({ id }), body: meant })),
  changeSelection: (id: number, change: SelectionChange) =>
    told(http.PATCH('/api/shoots/{id}/says', { ...of({ id }), body: change })),
  selectionRaws: (id: number, meant: Selected) =>
    told(http.POST('/api/shoots/{id}/raws', { ...of({ id }), body: meant })),
  convertSelection: (id: number, meant: Selected, what: Conversion) =>
    told(http.POST('/api/shoots/{id}/dng', { ...of({ id }), body: { ...meant, do: what } })),
  pass: (id: number) => told(http.GET('/api/shoots/{id}/verdicts', of({ id }))),
  judge: (id: number, judgements: readonly Schemas['Judgement'][]) =>
    told(http.PATCH('/api/shoots/{id}/verdicts', { ...of({ id }), ...lasting({ judgements: [...judgements] }) })),
  redoChange: (id: number) => told(http.POST('/api/shoots/{id}/redo', of({ id }))),
  undoChange: (id: number) => told(http.POST('/api/shoots/{id}/undo', of({ id }))),
  outsideChanges: (id: number) => listed(http.GET('/api/shoots/{id}/outside', of({ id })), 'changes'),
  settleOutside: (id: number, keep: 'theirs' | 'ours') =>
    told(http.POST('/api/files/{id}/outside', { ...of({ id }), body: { keep } })),
  shoots: () => listed(http.GET('/api/shoots'), 'shoots'),
  shoot: (id: number) => told(http.GET('/api/shoots/{id}', of({ id }))),
  shootLight: (id: number) => listed(http.GET('/api/shoots/{id}/light', of({ id })), 'light'),
  shootFrames: (id: number, offset: number, limit: number) =>
    listed(http.GET('/api/shoots/{id}/frames', { params: { path: { id }, query: { offset, limit } } }), 'frames'),
  ledger: () => told(http.GET('/api/ledger')),
  backup: () => told(http.GET('/api/backups')),
  makeBackup: () => told(http.POST('/api/backups')),
  styles: () => told(http.GET('/api/styles')),
  addStyle: (style: Style) => told(http.POST('/api/styles', { body: { style } })),
  saveStyle: (name: string, style: Style) =>
    told(http.PUT('/api/styles/{name}', { ...of({ name }), ...lasting({ style }) })),
  removeStyle: (name: string) => told(http.DELETE('/api/styles/{name}', of({ name }))),
  makeStandard: (name: string) => told(http.POST('/api/styles/{name}/standard', of({ name }))),
  styleSamples: (style: Style) => listed(http.POST('/api/styles/samples', { body: { style } }), 'samples'),
  nameCamera: (camera: string, name: string) => told(http.PUT('/api/cameras', { body: { camera, name } })),
}

/** The receipt of an intake as a file, or of one entry of it. */
export function receiptUrl(
  sheet: number,
  format: 'xxh128' | 'sha256' | 'b2' | 'mhl' | 'csv' | 'json',
  entry?: number,
): string {
  return `/api/sheets/${sheet}/receipt.${format}${entry === undefined ? '' : `?entry=${entry}`}`
}

/** Where a movie is played from, by its fingerprint. */
export function recordingUrl(fingerprint: string): string {
  return `/api/recordings/${fingerprint}`
}

/** Where the web server keeps a frame's picture. */
export function pictureUrl(size: 320 | 1024 | 2560 | 16384, fingerprint: string): string {
  return `/pictures/${size}/${fingerprint.slice(0, 2)}/${fingerprint.slice(2)}.jpg`
}
