import { ChevronDown } from 'lucide-react'
import { Select } from 'radix-ui'
import { useMemo } from 'react'

interface Props<V extends string> {
  label: string
  value: V
  choices: readonly { value: V; label: string }[]
  onPick: (value: V) => void
  side?: 'top' | 'bottom'
  disabled?: boolean
}

/** A choice within a line of text. What can be chosen is drawn anew where it is another list. */
export function Pick<V extends string>({ label, value, choices, onPick, side = 'bottom', disabled = false }: Props<V>) {
  const list = useMemo(
    () => (
      <Select.Portal>
        <Select.Content className="z-50 menu p-1" position="popper" side={side} sideOffset={6}>
          <Select.Viewport>
            {choices.map((choice) => (
              <Select.Item
                key={choice.value}
                value={choice.value}
                className="cursor-pointer px-3 py-1.5 outline-none data-highlighted:bg-velvet-wash"
              >
                <Select.ItemText>{choice.label}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    ),
    [choices, side],
  )
  return (
    <Select.Root
      value={value}
      onValueChange={(picked) => {
        onPick(picked as V)
      }}
      disabled={disabled}
    >
      <Select.Trigger
        aria-label={label}
        className="link inline-flex items-center gap-1 font-semibold whitespace-nowrap"
      >
        <Select.Value />
        <ChevronDown size={14} />
      </Select.Trigger>
      {list}
    </Select.Root>
  )
}
