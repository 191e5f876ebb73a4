import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { api, type Conversion } from '../../api/client'
import { selected } from '../../model/selected'
import { Trouble } from '../../parts/Trouble'
import { Tip } from '../../parts/Tip'
import { texts } from './texts'

interface Props {
  shoot: number
  /** The frames that are selected, and all that there are. */
  frames: number[]
  all: number[]
  /** Tells the selection from others. */
  of: string
}

/** Raw files of the selection: converted to DNG afterwards, or restored from it. */
export function SelectionRaws({ shoot, frames, all, of }: Props) {
  const queries = useQueryClient()
  const key = ['shoots', shoot, 'raws', of]
  const raws = useQuery({
    queryKey: key,
    queryFn: () => api.selectionRaws(shoot, selected(frames, all)),
    placeholderData: (before) => before,
    enabled: frames.length > 0,
  })
  const ask = useMutation({
    meta: { inPlace: true },
    mutationFn: ({ what, meant }: { what: Conversion; meant: number[]; key: unknown[] }) =>
      api.convertSelection(shoot, selected(meant, all), what),
    onSuccess: (answer, asked) => {
      queries.setQueryData(asked.key, answer)
      void queries.invalidateQueries({ queryKey: ['bays'] })
    },
  })
  if (!raws.data) return null
  const { raws: convertible, inside, waiting, refused } = raws.data
  const choices: { what: Conversion; label: string; about: string }[] = []
  if (convertible > 0) {
    choices.push({ what: 'beside', ...texts.raws.beside(convertible) })
    choices.push({ what: 'embed', ...texts.raws.embed })
  }
  if (inside > 0) choices.push({ what: 'take_out', ...texts.raws.restore(inside) })
  return (
    <>
      {ask.error && <Trouble>{ask.error.message}</Trouble>}
      {waiting > 0 && (
        <span role="status" className="whitespace-nowrap text-soft">
          {texts.raws.underWay(waiting)}
        </span>
      )}
      {refused.length > 0 && (
        <Tip says={refused.length > 1 ? refused.join('\n') : null}>
          <span className="text-brass" tabIndex={refused.length > 1 ? 0 : undefined}>
            {refused[0]}
            {refused.length > 1 && texts.raws.same(refused.length - 1)}
          </span>
        </Tip>
      )}
      {choices.length > 0 && (
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger className="link whitespace-nowrap">{texts.raws.menu}</DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" side="top" sideOffset={4} className="z-40 min-w-[280px] menu p-1.5">
              {choices.map(({ what, label, about }) => (
                <DropdownMenu.Item
                  key={what}
                  className="cursor-pointer px-2.5 py-1.5 outline-none data-[highlighted]:bg-velvet-wash"
                  onSelect={() => {
                    ask.mutate({ what, meant: frames, key })
                  }}
                >
                  <span className="block">{label}</span>
                  <span className="block text-[12.5px] text-soft">{about}</span>
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </>
  )
}
