import { useQuery } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { memo, useState } from 'react'
import { api, type FrameGroup } from '../../api/client'
import { classes } from '../../parts/classes'
import { texts } from './texts'

const says = texts.groups

/** Selects at one stroke: a day, a kind, a camera, what looks black or blurred, what is filed already. */
export const Groups = memo(function Groups({
  sheet,
  number,
  count,
  select,
}: {
  sheet: number
  number: number
  count: number
  select: (positions: number[]) => void
}) {
  const [open, setOpen] = useState(false)
  const groups = useQuery({
    queryKey: ['groups', sheet, number],
    queryFn: () => api.frameGroups(sheet, number),
    enabled: open,
    staleTime: 0,
  })
  return (
    <DropdownMenu.Root modal={false} open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger className="link text-[13px]">{says.select}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className={classes(
            'menu z-30 min-w-[240px] overflow-y-auto p-1.5',
            'max-h-[min(60vh,var(--radix-dropdown-menu-content-available-height))]',
          )}
        >
          <Group
            words={says.all}
            count={count}
            onSelect={() => {
              select(Array.from({ length: count }, (_, position) => position))
            }}
          />
          {groups.data?.map((group, i) => (
            <div
              key={`${group.by} ${group.of}`}
              className={group.by === groups.data[i - 1]?.by ? '' : 'mt-1 border-t border-rule pt-1'}
            >
              <Group
                words={words(group)}
                count={group.positions.length}
                onSelect={() => {
                  select(group.positions)
                }}
              />
            </div>
          ))}
          {groups.error && <p className="px-2.5 py-1 text-[13px]">{groups.error.message}</p>}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
})

function Group({ words: name, count, onSelect }: { words: string; count: number; onSelect: () => void }) {
  return (
    <DropdownMenu.Item onSelect={onSelect} className="menu-line justify-between gap-6">
      <span>{name}</span>
      <span className="text-soft tabular-nums">{count.toLocaleString('en')}</span>
    </DropdownMenu.Item>
  )
}

function words({ by, of }: FrameGroup): string {
  switch (by) {
    case 'day':
      return of === '' ? says.undated : says.day(of)
    case 'kinds':
      return says.kinds(of)
    case 'camera':
      return of === '' ? says.noCamera : of
    case 'card':
      return says.card(of)
    default:
      return says.others[of] ?? of
  }
}
