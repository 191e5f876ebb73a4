import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type Ledger } from '../../api/client'
import { Heading } from '../../parts/Heading'
import { classes } from '../../parts/classes'
import { isOver } from '../../parts/stage'
import { Nothing, Trouble, Waiting } from '../../parts/Trouble'
import { bytes, instant } from '../../parts/words'
import { BackupLine } from './BackupLine'
import { texts } from './texts'

/** Everything that was taken in, set aside and checked, latest first, each leading to its receipt or its shoot. */
export function LedgerPlace() {
  const ledger = useQuery({ queryKey: ['ledger'], queryFn: api.ledger })
  if (!ledger.data) return <Waiting error={ledger.error} />
  const { intakes, acts, chain, all_checked_at: checkedAt } = ledger.data
  const entries = [
    ...intakes.map((intake) => ({
      at: intake.started_at,
      row: <IntakeRow key={`intake ${intake.id}`} intake={intake} />,
    })),
    ...acts.map((act, n) => ({ at: act.at, row: <ActRow key={`${act.at} ${n}`} act={act} /> })),
  ].sort((a, b) => Date.parse(b.at) - Date.parse(a.at))
  return (
    <div className="page pb-16">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 pt-5 pb-3">
        <Heading>{texts.title}</Heading>
        <p className="text-soft">{texts.count(intakes.length)}</p>
        <p className="ml-auto">
          {chain.whole ? (
            <span className="text-verdigris">
              {texts.intact(chain.lines)} {checkedAt === null ? null : texts.laterLines(instant(checkedAt))}
            </span>
          ) : null}
        </p>
      </div>
      {!chain.whole && (
        <div className="mb-4">
          <Trouble>
            {chain.broken_at === null ? texts.lacks(chain.lacks) : texts.broken(chain.broken_at, chain.lines)}
          </Trouble>
        </div>
      )}
      <BackupLine />
      {entries.length === 0 ? (
        <Nothing title={texts.none.title}>
          <p>{texts.none.about}</p>
        </Nothing>
      ) : (
        entries.map(({ row }) => row)
      )}
    </div>
  )
}

function IntakeRow({ intake }: { intake: Ledger['intakes'][number] }) {
  return (
    <section
      aria-label={texts.intake.label(intake.id)}
      className={classes(
        'grid grid-cols-[44px_190px_minmax(0,1fr)_110px_110px_170px] items-baseline gap-x-6',
        'border-t border-rule py-3.5',
        'max-md:grid-cols-[28px_minmax(0,1fr)_auto] max-md:gap-x-3 max-md:gap-y-1',
      )}
    >
      <span className="serif text-[24px] text-velvet">{intake.id}</span>
      <span>
        {instant(intake.started_at)}
        <span className="block text-[13px] text-soft">{texts.intake.cards(intake.cards)}</span>
      </span>
      <span className="min-w-0 max-md:order-1 max-md:col-span-2 max-md:col-start-2">
        {intake.shoots.map((shoot) => (
          <Link
            key={shoot.id}
            to={`/shoots/${shoot.id}`}
            className="serif block text-[17px] hover:text-velvet hover:underline"
          >
            {shoot.name} <span className="font-sans text-[13px] text-soft">{shoot.day ?? texts.intake.undated}</span>
          </Link>
        ))}
        {intake.shoots.length === 0 && <span className="text-soft">{texts.intake.nothing}</span>}
      </span>
      <span className="text-right max-md:order-2 max-md:col-start-2 max-md:text-left">
        <strong className="font-semibold">{intake.frames.toLocaleString('en')}</strong>
        <span className="block text-[13px] text-soft">{texts.intake.frames}</span>
      </span>
      <span className="text-right max-md:order-2">
        <strong className="font-semibold">{bytes(intake.bytes)}</strong>
        <span className="block text-[13px] text-soft">{texts.intake.took(intake.seconds)}</span>
      </span>
      <span className="text-right">
        <Link to={`/sheets/${intake.id}`} className="link">
          {isOver(intake.state) ? texts.intake.receipt : texts.intake.underWay}
        </Link>
        <span className="block text-[13px] text-soft">
          {[
            texts.intake.states[intake.state],
            intake.failed > 0 ? texts.intake.failed(intake.failed) : '',
            intake.skipped > 0 ? texts.intake.skipped(intake.skipped) : '',
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
      </span>
    </section>
  )
}

function ActRow({ act }: { act: Ledger['acts'][number] }) {
  const says = texts.acts[act.event](act)
  return (
    <section
      aria-label={says}
      className={classes(
        'grid grid-cols-[44px_190px_minmax(0,1fr)_110px_110px_170px] items-baseline gap-x-6',
        'border-t border-rule py-2',
        'max-md:grid-cols-[28px_minmax(0,1fr)_auto] max-md:gap-x-3 max-md:gap-y-1',
      )}
    >
      <span className="col-start-2">{instant(act.at)}</span>
      <span className="min-w-0 max-md:order-1 max-md:col-span-2 max-md:col-start-2">
        {act.shoot ? (
          <Link
            to={`/shoots/${act.shoot.id}/set-aside`}
            className="serif text-[17px] hover:text-velvet hover:underline"
          >
            {act.shoot.name}
          </Link>
        ) : (
          <span className="serif text-[17px] wrap-anywhere">
            {act.what === 'everything' ? texts.everything : act.what}
          </span>
        )}
        <span className="ml-3 text-soft">{says}</span>
      </span>
    </section>
  )
}
