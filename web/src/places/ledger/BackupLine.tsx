import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../../api/client'
import { Trouble } from '../../parts/Trouble'
import { ago, bytes, instant, list } from '../../parts/words'

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
      aria-label="Backup of the ledger"
      className="mb-5 flex flex-wrap items-start gap-x-6 gap-y-2 border-t border-rule pt-3.5"
    >
      <div className="min-w-0 flex-1 basis-80">
        {made_at === null || path === null ? (
          <p>
            <strong className="font-semibold">There is no backup of the ledger yet.</strong> One is made after each
            intake.
          </p>
        ) : (
          <>
            <p>
              <strong className="font-semibold">Last backup {ago(made_at)}</strong>
              <span className="text-soft">
                {' '}
                · {instant(made_at)}, {bytes(backup.data.bytes)}, restored for a trial and compared
              </span>
            </p>
            <p className="text-[13px] break-words text-soft">
              In {path}
              {places.length > 0 && <> and beside the pictures in {list(places)}</>}.
              {without_it.length > 0 && (
                <span className="text-brass"> Not in {list(without_it)}: not connected, or not to be written to.</span>
              )}
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
        {isUnderWay ? 'Backing up…' : 'Back up now'}
      </button>
      {failed !== null && (
        <div className="basis-full">
          <Trouble>
            The backup of {failed_at === null ? 'late' : instant(failed_at)} came to nothing: {failed}
          </Trouble>
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
