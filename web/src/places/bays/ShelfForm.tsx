import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { api, type Shelf } from '../../api/client'
import { Trouble } from '../../parts/Trouble'
import { texts } from './texts'

/**
 * A shelf with its name and its twin: new, or one that is there and gets another name or twin. Folders are chosen by
 * looking.
 */
export function ShelfForm({ shelf, onDone }: { shelf?: Shelf; onDone: () => void }) {
  const queries = useQueryClient()
  const known = shelf?.places.find((place) => place.role === 'shelf')?.root
  const [name, setName] = useState(shelf?.name ?? '')
  const [root, setRoot] = useState(known ?? '/')
  const [twin, setTwin] = useState<string | null>(shelf?.places.find((place) => place.role === 'twin')?.root ?? null)
  const save = useMutation({
    meta: { inPlace: true },
    mutationFn: () => (shelf ? api.changeShelf(shelf.id, name, twin) : api.addShelf(name, root, twin)),
    onSuccess: (bays) => {
      queries.setQueryData(['bays'], bays)
      onDone()
    },
  })
  return (
    <section
      aria-label={shelf ? texts.form.label(shelf.name) : texts.form.fresh}
      className="my-4 border border-rule-strong bg-leaf p-5"
    >
      <label className="mb-4 flex max-w-[420px] items-baseline gap-3">
        <span className="text-soft">{texts.form.called}</span>
        <input
          autoFocus
          aria-label={texts.form.name}
          value={name}
          placeholder={root.split('/').at(-1) ?? ''}
          className="serif flex-1 typed text-[20px]"
          onChange={(event) => {
            setName(event.target.value)
          }}
        />
      </label>
      <div className="grid grid-cols-2 gap-8 max-lg:grid-cols-1">
        {shelf ? (
          <p>
            <span className="text-soft">{texts.form.folder}</span>
            <br />
            <strong className="font-semibold wrap-anywhere">{root}</strong>
          </p>
        ) : (
          <FolderChoice title={texts.form.folder} path={root} onChange={setRoot} />
        )}
        {twin === null ? (
          <p className="text-soft">
            {texts.form.noTwin}{' '}
            <button
              type="button"
              className="link"
              onClick={() => {
                setTwin('/')
              }}
            >
              {texts.form.addTwin}
            </button>
          </p>
        ) : (
          <FolderChoice title={texts.form.twinsFolder} path={twin} onChange={setTwin}>
            <button
              type="button"
              className="link text-[13px]"
              onClick={() => {
                setTwin(null)
              }}
            >
              {texts.form.withoutTwin}
            </button>
          </FolderChoice>
        )}
      </div>
      {save.error && (
        <div className="mt-3">
          <Trouble>{save.error.message}</Trouble>
        </div>
      )}
      <div className="mt-4 flex gap-3">
        <button
          type="button"
          className="button button-main"
          disabled={save.isPending}
          onClick={() => {
            save.mutate()
          }}
        >
          {shelf ? texts.form.save : texts.form.add}
        </button>
        <button type="button" className="button" onClick={onDone}>
          {texts.form.cancel}
        </button>
      </div>
    </section>
  )
}

/** Choosing a folder of the server by walking through them; a path can be pasted, too. */
function FolderChoice({
  title,
  path,
  onChange,
  children,
}: {
  title: string
  path: string
  onChange: (path: string) => void
  children?: ReactNode
}) {
  const folders = useQuery({
    queryKey: ['folders', path],
    queryFn: () => api.folders(path),
    placeholderData: (before) => before,
  })
  const [typed, setTyped] = useState<string | null>(null)
  const here = folders.data
  return (
    <div>
      <div className="mb-1 flex min-h-6 items-baseline justify-between text-soft">
        <span>{title}</span>
        {children}
      </div>
      <input
        aria-label={title}
        value={typed ?? path}
        spellCheck={false}
        className="w-full typed pb-0.5 font-semibold"
        onChange={(event) => {
          setTyped(event.target.value)
        }}
        onBlur={() => {
          if (typed !== null && typed.trim() !== '') onChange(typed.trim().replace(/(.)\/+$/, '$1'))
          setTyped(null)
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
        }}
      />
      <div className="my-1.5 text-[13px] text-soft">
        {here?.problem ??
          (here &&
            `${here.writable ? '' : texts.form.readOnly}${here.free === null ? '' : texts.form.free(here.free)}`)}
      </div>
      <ul aria-label={texts.form.foldersIn(path)} className="h-[190px] overflow-y-auto border border-rule">
        {here?.parent != null && (
          <li>
            <button
              type="button"
              className="block w-full px-3 py-1 text-left hover:bg-velvet-wash"
              onClick={() => {
                if (here.parent) onChange(here.parent)
              }}
            >
              {texts.form.up(here.parent)}
            </button>
          </li>
        )}
        {here?.folders.map((name) => (
          <li key={name}>
            <button
              type="button"
              className="block w-full truncate px-3 py-1 text-left hover:bg-velvet-wash"
              onClick={() => {
                onChange(`${here.path === '/' ? '' : here.path}/${name}`)
              }}
            >
              {name}
            </button>
          </li>
        ))}
        {here?.folders.length === 0 && <li className="px-3 py-1 text-soft">{texts.form.noFolders}</li>}
      </ul>
    </div>
  )
}
