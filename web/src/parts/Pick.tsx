import { ChevronDown } from 'lucide-react'
import { Select } from 'radix-ui'
import { useState } from 'react'

interface Props<V extends string> {
  label: string
  value: V
  choices: readonly { value: V; label: string }[]
  onPick: (value: V) => void
  side?: 'top' | 'bottom'
  disabled?: boolean
}

/**
 * A choice within a line of text. What can be chosen is made when a hand or the focus comes near: a page has dozens of
 * these, and each of their lists would be drawn with every key otherwise.
 */
export function Pick<V extends string>({ label, value, choices, onPick, side = 'bottom', disabled = false }: Props<V>) {
  const [near, setNear] = useState(false)
  const come = () => {
    setNear(true)
  }
  return (
    <Select.Root
      value={value}
      onValueChange={(picked) => {
        onPick(picked as V)
      }}
      onOpenChange={come}
      disabled={disabled}
    >
      <Select.Trigger
        aria-label={label}
        className="link inline-flex items-center gap-1 font-semibold whitespace-nowrap"
        onPointerEnter={come}
        onFocus={come}
      >
        <Select.Value>{choices.find((choice) => choice.value === value)?.label}</Select.Value>
        <ChevronDown size={14} />
      </Select.Trigger>
      {near && (
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
      )}
    </Select.Root>
  )
}
