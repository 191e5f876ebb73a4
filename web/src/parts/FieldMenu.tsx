import { DropdownMenu } from 'radix-ui'
import type { MetadataField } from '../api/client'
import { FIELDS } from './fields'

/** A further field, chosen from those that are not there yet. */
export function FieldMenu({
  fields,
  onAdd,
  side = 'bottom',
}: {
  fields: MetadataField[]
  onAdd: (field: MetadataField) => void
  side?: 'top' | 'bottom'
}) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="link justify-self-start text-[13px]">+ a field</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          side={side}
          sideOffset={4}
          className="z-40 max-h-[50vh] min-w-[240px] overflow-y-auto menu p-1.5"
        >
          {fields.map((field) => (
            <DropdownMenu.Item
              key={field}
              className="menu-line"
              onSelect={() => {
                onAdd(field)
              }}
            >
              {FIELDS[field]}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
