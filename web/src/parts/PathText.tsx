const SCRIPTS = ['Hebrew', 'Arabic', 'Syriac', 'Thaana', 'Nko', 'Adlam']
const LETTER = `[${SCRIPTS.map((script) => String.raw`\p{Script=${script}}`).join('')}]`
/** Within one name of a path, from the first letter that is read from right to left to the last, with its marks. */
const RUN = new RegExp(String.raw`(${LETTER}(?:[^/]*${LETTER})?\p{M}*)`, 'u')

/**
 * A path, or a file's name. Its parts stand from left to right also where words in it are read from right to left
 * (Unicode Standard Annex 9: digits, points and strokes would go to the other side of such a word).
 */
export function PathText({ path }: { path: string }) {
  return path.split(RUN).map((part, n) => (n % 2 === 1 ? <bdi key={n}>{part}</bdi> : part))
}
