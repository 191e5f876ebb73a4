// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { afterEach, describe, expect, test, vi } from 'vitest'
import { act, actOf, KEYS, listed, type Scope } from '../src/keys/keys'
import { useFocusKept } from '../src/keys/useFocusKept'
import { useKeys } from '../src/keys/useKeys'

afterEach(cleanup)

const press = (key: string, of: Partial<KeyboardEventInit> = {}, target: EventTarget = document.body) => ({
  key,
  ctrlKey: of.ctrlKey ?? false,
  metaKey: of.metaKey ?? false,
  altKey: of.altKey ?? false,
  shiftKey: of.shiftKey ?? false,
  target,
  preventDefault: vi.fn(),
})
const element = (html: string): Element => {
  document.body.innerHTML = html
  return document.body.querySelector('.at') ?? document.body
}

describe('keys', () => {
  test('a key is its own with the modifiers that belong to it, and nothing with others', () => {
    expect(actOf('selecting', press('l'))).toBe('leaveOut')
    expect(actOf('selecting', press('L'))).toBe('leaveOut') // Caps Lock
    expect(actOf('selecting', press('l', { ctrlKey: true }))).toBeNull() // the browser's own
    expect(actOf('selecting', press('l', { altKey: true }))).toBeNull()
    expect(actOf('selecting', press('l', { metaKey: true }))).toBeNull()
    expect(actOf('sheet', press('z', { ctrlKey: true }))).toBe('undo')
    expect(actOf('sheet', press('Z', { metaKey: true, shiftKey: true }))).toBe('redo')
    expect(actOf('sheet', press('y', { ctrlKey: true }))).toBe('redoToo')
    expect(actOf('sheet', press('z'))).toBeNull()
    expect(actOf('frames', press('ArrowRight', { shiftKey: true }))).toBe('right')
    expect(actOf('frames', press('ArrowRight', { altKey: true }))).toBeNull() // the browser goes forward
    expect(actOf('everywhere', press('?', { shiftKey: true }))).toBe('list')
  })

  test('nothing is taken from a field, nor the space bar and Enter from what they press', () => {
    const field = element('<p><input class="at"></p>')
    expect(actOf('everywhere', press('?', {}, field))).toBeNull()
    expect(actOf('sheet', press('z', { ctrlKey: true }, field))).toBeNull()
    expect(actOf('name', press('Enter', {}, field), true)).toBe('next') // its own
    for (const html of ['<textarea class="at"></textarea>', '<p contenteditable="true"><b class="at">a</b></p>'])
      expect(actOf('selecting', press('l', {}, element(html)))).toBeNull()
    const button = element('<button><b class="at">Copy</b></button>')
    expect(actOf('look', press(' ', {}, button))).toBeNull()
    expect(actOf('frames', press('Enter', {}, button))).toBeNull()
    expect(actOf('look', press('ArrowRight', {}, button))).toBe('next')
    expect(actOf('look', press(' ', {}, element('<video class="at"></video>')))).toBeNull() // plays and pauses
  })

  test('what nothing is given for stays the browser’s', () => {
    const [first, second] = [press('Escape'), press('Escape')]
    expect(act('frames', first, {})).toBe(false)
    expect(first.preventDefault).not.toHaveBeenCalled()
    const close = vi.fn()
    expect(act('frames', second, { close })).toBe(true)
    expect(second.preventDefault).toHaveBeenCalledOnce()
    expect(close).toHaveBeenCalledOnce()
  })

  test('no key means two things in one scope, and no line of the list stands twice', () => {
    for (const scope of Object.keys(KEYS) as Scope[]) {
      const strokes = Object.values(KEYS[scope].keys).flatMap((key) => {
        const {
          press: keys,
          mod = false,
          shift = false,
        } = key as { press: readonly string[]; mod?: boolean; shift?: boolean | 'may' }
        return keys.map((each) => [mod, shift, each].join(' '))
      })
      expect(new Set(strokes).size, scope).toBe(strokes.length)
      const lines = listed(KEYS[scope].keys)
      expect(new Set(lines.map(({ label }) => label)).size, scope).toBe(lines.length)
      expect(Object.values<object>(KEYS[scope].keys)[0], 'what the first does is said').toHaveProperty('what')
    }
  })

  test('keys of a page act with what it is now, and end with it', () => {
    const heard: number[] = []
    function Page({ count }: { count: number }) {
      useKeys('sheet', {
        undo: () => {
          heard.push(count)
        },
      })
      return null
    }
    const { rerender, unmount } = render(<Page count={1} />)
    rerender(<Page count={2} />)
    fireEvent.keyDown(document.body, { key: 'z', ctrlKey: true })
    unmount()
    fireEvent.keyDown(document.body, { key: 'z', ctrlKey: true })
    expect(heard).toEqual([2])
  })

  test('keys of a page are not those of a choice that stands open over it, nor what it used', () => {
    const keep = vi.fn()
    const leave = vi.fn()
    function Page() {
      useKeys('pass', { keep, leave })
      return (
        <>
          <div data-radix-popper-content-wrapper="">
            <p role="option" aria-selected="false" tabIndex={-1}>
              kept, again
            </p>
          </div>
          <button type="button">Tab</button>
        </>
      )
    }
    render(<Page />)
    fireEvent.keyDown(screen.getByRole('option'), { key: 'k' })
    const closing = (event: KeyboardEvent) => {
      event.preventDefault() // as a menu does that Escape closes
    }
    document.addEventListener('keydown', closing, { capture: true, once: true })
    fireEvent.keyDown(screen.getByRole('button'), { key: 'Escape' })
    expect(keep).not.toHaveBeenCalled()
    expect(leave).not.toHaveBeenCalled()
    fireEvent.keyDown(screen.getByRole('button'), { key: 'k' })
    fireEvent.keyDown(screen.getByRole('button'), { key: 'Escape' })
    expect([keep, leave].map(({ mock }) => mock.calls.length)).toEqual([1, 1])
  })
})

describe('the focus', () => {
  function Page() {
    const [there, setThere] = useState(true)
    const box = useFocusKept('[role=listbox]')
    return (
      <div ref={box}>
        <div role="listbox" tabIndex={0} />
        {there && (
          <button
            type="button"
            onClick={() => {
              setThere(false)
            }}
          >
            Join
          </button>
        )}
      </div>
    )
  }

  test('goes on when what had it is gone', async () => {
    render(<Page />)
    screen.getByRole('button').focus()
    fireEvent.click(screen.getByRole('button'))
    await vi.waitFor(() => {
      expect(document.activeElement).toBe(screen.getByRole('listbox'))
    })
  })

  test('is not taken from where a hand put it', async () => {
    render(<Page />)
    const button = screen.getByRole('button')
    button.focus()
    button.blur() // a click beside everything
    await Promise.resolve()
    fireEvent.click(button)
    await Promise.resolve()
    expect(document.activeElement).toBe(document.body)
  })
})
