import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../../api/client'
import { Trouble } from '../../parts/Trouble'
import { ago, instant } from '../../parts/words'
import { texts } from './texts'

const says = texts.backup

/** Where the latest backup of the ledger is, and how old. */
export function BackupLine() {
  const backup = useQuery({ queryKey: ['backups'], queryFn: api.backup })
  const [askedAfter, setAskedAfter] = useState<string | null>(null)
  const asked = useMutation({
    meta: { inPlace: true },
    mutationFn: api.makeBackup,
    onError: () => {
      setAskedAfter(null)
    },
  })
  if (!backup.data) return null
  const { made_at, path, places, without_it, failed, failed_at } = backup.data
  const latest = `${made_at}, ${failed_at}`
  const isUnderWay = askedAfter === latest // until another one is told
  return (
    <section
      aria-label={says.label}
      className="mb-5 flex flex-wrap items-start gap-x-6 gap-y-2 border-t border-rule pt-3.5"
    >
      <div className="min-w-0 flex-1 basis-80">
        {made_at === null || path === null ? (
          <p>
            <strong className="font-semibold">{says.none[0]}</strong> {says.none[1]}
          </p>
        ) : (
          <>
            <p>
              <strong className="font-semibold">{says.last(ago(made_at))}</strong>
              <span className="text-soft"> {says.of(instant(made_at), backup.data.bytes)}</span>
            </p>
            <p className="text-[13px] break-words text-soft">
              {says.in(path, places)}
              {without_it.length > 0 && <span className="text-brass"> {says.notIn(without_it)}</span>}
            </p>
          </>
        )}
      </div>
      <button
        type="button"
        className="button"
        disabled={isUnderWay}
        onClick={() => {
          setAskedAfter(latest)
          asked.mutate()
        }}
      >
        {isUnderWay ? says.underWay : says.make}
      </button>
      {failed !== null && (
        <div className="basis-full">
          <Trouble>{says.failed(failed_at === null ? null : instant(failed_at), failed)}</Trouble>
        </div>
      )}
      {asked.error !== null && (
        <div className="basis-full">
          <Trouble>{asked.error.message}</Trouble>
        </div>
      )}
    </section>
  )
}
