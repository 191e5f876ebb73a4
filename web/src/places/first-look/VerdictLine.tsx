import type { Judgement, PassFrame, PassGroup, Verdict } from '../../api/client'
import type { Tab } from '../../api/tabs'
import { isForOne, oneOf, saysOtherwise, starsOf, takingOver, type Counts } from '../../model/pass'
import { classes } from '../../parts/classes'
import type { Seen } from '../../parts/Frame'
import { Pick } from '../../parts/Pick'
import { Rotate } from '../../parts/Rotate'
import { bias, camera, exposure, playing } from '../../parts/fact-words'
import { useWho } from '../../parts/who'
import { plural } from '../../parts/words'
import { TabChips, TabMenu } from './TabMenu'
import { texts } from './texts'
import type { useFold } from './useFold'

interface Step {
  what: string
  act: () => void
}

interface Props {
  frame: PassFrame
  number: number
  /** Its facts; undefined until they are here. */
  seen: Seen | undefined
  group: PassGroup | null
  /** Ids of the frames that are judged with it: its own, or those of a folded group. */
  hand: number[]
  /** How these are judged. */
  handful: Counts
  fold: Pick<ReturnType<typeof useFold>, 'isFolded' | 'fold' | 'toggle'>
  tabs: readonly Tab[]
  isTabsOpen: boolean
  onTabsOpen: (isOpen: boolean) => void
  onTab: (tab: number, isGroup: boolean) => void
  counts: Counts
  /** Whether somebody else judged some of the frames, which is said beside the verdict. */
  isOfSeveral: boolean
  goesOn: boolean
  onGoesOn: (goesOn: boolean) => void
  onJudge: (judgement: Judgement) => void
  onGo: (frame: number) => void
  isCloser: boolean
  onCloser: () => void
  /** How many frames stand beside each other. */
  besides: number
  onBesides: (besides: number) => void
  isLightShown: boolean
  onLight: (isShown: boolean) => void
  onRotate: (to: 'right' | 'left') => void
  undo: Step | null
  redo: Step | null
}

/** The frame at hand in one ledger line: number, exposure, verdict, stars; beneath it what it belongs to. */
export function VerdictLine(props: Props) {
  const { frame, number, seen, group, counts, goesOn, onGoesOn, onJudge, onGo, isCloser, onCloser, undo, redo } = props
  const { hand, handful, fold, besides, onBesides, isLightShown, onLight } = props
  const facts = seen?.facts
  const shot = facts && [
    playing(facts) ?? exposure(facts).join(' · '),
    bias(facts)?.startsWith('±') === false ? bias(facts) : null,
  ]
  return (
    <>
      <TabChips tabs={props.tabs} frame={frame} />
      <div
        className={classes(
          'grid grid-cols-[1fr_auto_1fr] items-baseline gap-x-5 xl:h-[30px]',
          'max-md:grid-cols-1 max-md:gap-y-1',
        )}
      >
        <span className="min-w-0 truncate">
          <b className="serif mr-3 text-[24px] leading-none">{number}</b>
          {shot?.filter(Boolean).join(' · ')}
        </span>
        <span
          className={classes(
            'flex items-baseline gap-x-1 text-[16px]',
            'max-md:order-first max-md:flex-wrap max-md:justify-center',
          )}
        >
          {(['kept', 'struck', 'open'] as const).map((verdict) => (
            <VerdictButton
              key={verdict}
              verdict={verdict}
              isPressed={handful[verdict] === hand.length}
              onPress={() => {
                onJudge({ frames: hand, verdict })
              }}
            />
          ))}
          <span className="mx-2 h-5 self-center border-l border-desk-rule max-md:h-0 max-md:w-full max-md:border-0" />
          <Stars
            frame={frame}
            onStars={(stars) => {
              onJudge({ frames: hand, stars })
            }}
          />
          <TabMenu
            tabs={props.tabs}
            frame={frame}
            group={group?.frames.length ?? 1}
            isOpen={props.isTabsOpen}
            onOpen={props.onTabsOpen}
            onTab={props.onTab}
          />
        </span>
        {seen ? (
          <span className="flex min-w-0 justify-end text-desk-soft max-md:justify-start" title={seen.name}>
            <span className="shrink-0 whitespace-pre">
              {[seen.facts.captured_at?.slice(11, 19) ?? 'no date', camera(seen.facts), ''].filter(isSaid).join(' · ')}
            </span>
            {/* cut at its beginning: its number is what tells it from the next */}
            <span dir="rtl" className="truncate">
              <bdi dir="ltr">{seen.name}</bdi>
            </span>
          </span>
        ) : (
          <span />
        )}
      </div>
      <div
        className={classes(
          'mt-0.5 mb-2 flex min-h-6 flex-wrap items-baseline gap-x-4 text-[13px] text-desk-soft',
          // as many lines with each frame, whatever is undone and said: the picture must not move under the eye
          props.isOfSeveral ? 'xl:h-[52px] xl:content-start' : 'xl:h-[26px] xl:flex-nowrap xl:whitespace-nowrap',
        )}
      >
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={goesOn}
            onChange={(event) => {
              onGoesOn(event.target.checked)
            }}
          />
          {texts.goesOn}
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={fold.isFolded}
            onChange={(event) => {
              fold.fold(event.target.checked)
            }}
          />
          {texts.folds}
        </label>
        <button type="button" className="link" aria-pressed={isCloser} onClick={onCloser}>
          {texts.closer}
        </button>
        <Pick
          label={texts.besides}
          value={String(besides)}
          choices={texts.besidesChoices}
          onPick={(many) => {
            onBesides(Number(many))
          }}
        />
        <button
          type="button"
          className="link"
          aria-pressed={isLightShown}
          onClick={() => {
            onLight(!isLightShown)
          }}
        >
          {texts.light}
        </button>
        <Rotate onRotate={props.onRotate} />
        {undo && (
          <button type="button" className="link min-w-0 truncate" title={`Undo ${undo.what}`} onClick={undo.act}>
            Undo {undo.what}
          </button>
        )}
        {redo && (
          <button type="button" className="link min-w-0 truncate" title={`Redo ${redo.what}`} onClick={redo.act}>
            Redo {redo.what}
          </button>
        )}
        <Marks frame={frame} onJudge={onJudge} />
        <span className="ml-auto flex flex-wrap items-baseline gap-x-2 xl:shrink-0 xl:flex-nowrap">
          {group ? (
            <Group
              group={group}
              frame={frame.id}
              hand={hand}
              handful={handful}
              fold={fold}
              onJudge={onJudge}
              onGo={onGo}
            />
          ) : (
            (texts.left(counts.open) ?? texts.done(counts))
          )}
        </span>
      </div>
    </>
  )
}

/** Whose word the verdict is, where it is another's, and what others say beside it. */
function Marks({ frame, onJudge }: Pick<Props, 'frame' | 'onJudge'>) {
  const who = useWho()
  return (
    <>
      {frame.by !== null && frame.by !== who && <span>{texts.who.judged(frame.by)}</span>}
      {frame.beside.map((mark) => (
        <span key={mark.by} className="flex items-baseline gap-x-1.5 text-desk-ink">
          {texts.mark(mark)}
          {saysOtherwise(frame, mark) && (
            <button
              type="button"
              className="link"
              aria-label={`${texts.takeOver}: ${texts.mark(mark)}`}
              onClick={() => {
                for (const judgement of takingOver([frame], mark.by)) onJudge(judgement)
              }}
            >
              {texts.takeOver}
            </button>
          )}
        </span>
      ))}
    </>
  )
}

const isSaid = (part: string | null): part is string => part !== null

function VerdictButton({ verdict, isPressed, onPress }: { verdict: Verdict; isPressed: boolean; onPress: () => void }) {
  const [letter, ...rest] = texts.verdicts[verdict]
  return (
    <button
      type="button"
      aria-pressed={isPressed}
      className={classes(
        'min-h-8 border-b-2 px-3 whitespace-nowrap max-md:min-h-11',
        isPressed ? 'border-desk-ink font-bold' : 'border-transparent text-desk-soft hover:text-desk-ink',
      )}
      onClick={onPress}
    >
      <span aria-hidden="true">
        {isPressed && verdict === 'kept' ? '✓ ' : isPressed && verdict === 'struck' ? '╱ ' : ''}
      </span>
      <u className="underline-offset-3">{letter}</u>
      {rest.join('')}
    </button>
  )
}

function Stars({ frame, onStars }: { frame: PassFrame; onStars: (stars: number) => void }) {
  const given = starsOf(frame)
  const ofFile = frame.stars === null && given > 0
  return (
    <span role="group" aria-label={texts.stars} className="flex items-baseline">
      {[1, 2, 3, 4, 5].map((stars) => (
        <button
          key={stars}
          type="button"
          aria-label={plural(stars, 'star')}
          aria-pressed={stars === given}
          className={classes('h-8 w-7 shrink-0 max-md:h-11 max-md:w-9', stars > given && 'text-desk-soft')}
          onClick={() => {
            onStars(stars === given && !ofFile ? 0 : stars) // the same ones again take them off
          }}
        >
          {stars <= given && !ofFile ? '★' : '☆'}
        </button>
      ))}
      {ofFile && <span className="ml-1 text-[12px] text-desk-soft">{given} in the file</span>}
    </span>
  )
}

function Group({
  group,
  frame,
  hand,
  handful,
  fold,
  onJudge,
  onGo,
}: Pick<Props, 'hand' | 'handful' | 'fold' | 'onJudge' | 'onGo'> & { group: PassGroup; frame: number }) {
  const { frames, sharpest } = group
  return (
    <>
      <span>
        {hand.length > 1 ? texts.asOne(hand.length, group, handful) : texts.inGroup(frames.indexOf(frame), group)}
      </span>
      {fold.isFolded && (
        <button
          type="button"
          className="link"
          onClick={() => {
            fold.toggle(group)
          }}
        >
          {hand.length > 1 ? texts.open : texts.close}
        </button>
      )}
      {sharpest === frame && <b className="font-semibold text-desk-ink">{texts.sharpest}</b>}
      {sharpest !== null && sharpest !== frame && (
        <button
          type="button"
          className="link"
          onClick={() => {
            onGo(sharpest)
          }}
        >
          {texts.toSharpest(frames.indexOf(sharpest))}
        </button>
      )}
      {isForOne(group) ? (
        <button
          type="button"
          className="link font-semibold text-desk-ink"
          onClick={() => {
            onJudge(oneOf(group, frame))
          }}
        >
          {texts.keepThis(frames.length - 1)}
        </button>
      ) : (
        (['kept', 'struck'] as const).map((verdict) => (
          <button
            key={verdict}
            type="button"
            className="link font-semibold text-desk-ink"
            onClick={() => {
              onJudge({ frames, verdict })
            }}
          >
            {verdict === 'kept' ? texts.keepAll : texts.strikeAll}
          </button>
        ))
      )}
    </>
  )
}
