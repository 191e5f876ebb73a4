import type { AsideSum } from '../../api/aside'
import { bytes, plural } from '../../parts/words'

/** What the page of frames that are set aside says. */
export const texts = {
  title: 'Set aside',
  titleOf: (shoot: string) => `Set aside: ${shoot}`,
  back: 'Shoots',
  moving: (files: number) => `Moving ${plural(files, 'file')}…`,
  size: (sum: AsideSum) => `${plural(sum.files, 'file')}, ${bytes(sum.bytes)}`,
  struck: {
    title: (frames: number) => `${plural(frames, 'struck frame')} still in the shoot`,
    label: 'Struck frames',
    about: (folder: string, places: number) =>
      `They move to “${folder}”, beside the shoot${places > 1 ? `, in each of ${places} places` : ''}. Nothing is ` +
      `deleted, and each can be brought back.`,
    act: (frames: number) => `Set ${plural(frames, 'frame')} aside`,
  },
  set_aside: {
    title: (frames: number) => `${plural(frames, 'frame')} set aside`,
    label: 'Frames that are set aside',
    act: (frames: number, isAll: boolean) => `Bring ${isAll ? 'all ' : ''}${plural(frames, 'frame')} back`,
    ask: 'Throw them away…',
    says: (sum: AsideSum) =>
      `Move ${plural(sum.frames, 'frame')} (${plural(sum.files, 'file')}, ${bytes(sum.bytes)}) to the trash, a ` +
      `folder with today’s date on the same drives? They can be brought back from there.`,
    sure: 'Throw them away',
    forget: 'Forget them…',
    forgetSays: (sum: AsideSum) =>
      `Leave ${plural(sum.files, 'file')} where they are, and no longer show or check these ` +
      `${plural(sum.frames, 'frame')}? This cannot be undone.`,
    forgetSure: 'Forget them',
  },
  in_trash: {
    title: (frames: number) => `${plural(frames, 'frame')} in the trash`,
    label: 'Frames in the trash',
    act: (frames: number, isAll: boolean) => `Bring ${isAll ? 'all ' : ''}${plural(frames, 'frame')} back`,
    ask: 'Delete them for good…',
    says: (sum: AsideSum, places: number) =>
      `Delete ${plural(sum.frames, 'frame')} (${plural(sum.files, 'file')}, ${bytes(sum.bytes)})` +
      `${places > 1 ? `, in each of ${places} places` : ''}? This cannot be undone.`,
    sure: (sum: AsideSum) => `Delete ${plural(sum.files, 'file')}`,
  },
  nothing: {
    title: 'Nothing is set aside',
    about:
      'Frames that you strike in the first look can be set aside here: their files leave the shoot and are kept ' +
      'beside it.',
    way: 'To the first look',
  },
  /** Beside a shoot. */
  toStruck: (frames: number) => `Set ${plural(frames, 'struck frame')} aside`,
  toAside: (frames: number) => `See ${plural(frames, 'frame')} set aside`,
}
