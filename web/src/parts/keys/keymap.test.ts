import { actOf, KEYMAP, keyName, keysOf, type KeyPart } from './keymap'

const press = (key: string, held: { ctrl?: boolean; alt?: boolean; shift?: boolean; meta?: boolean } = {}) => ({
  key,
  ctrlKey: held.ctrl ?? false,
  metaKey: held.meta ?? false,
  altKey: held.alt ?? false,
  shiftKey: held.shift ?? false,
})

describe('keys', () => {
  it('have one name, whatever else is held', () => {
    expect(keyName(press('s', { ctrl: true }))).toBe('Ctrl+s')
    expect(keyName(press('S', { ctrl: true }))).toBe('Ctrl+s')
    expect(keyName(press('Z', { meta: true, shift: true }))).toBe('Ctrl+Shift+z')
    expect(keyName(press('A', { shift: true }))).toBe('A')
    expect(keyName(press('ArrowUp', { shift: true }))).toBe('ArrowUp')
    expect(keyName(press('3', { alt: true }))).toBe('Alt+3')
  })
  it('do one thing in a part of the screen', () => {
    for (const part of Object.keys(KEYMAP) as KeyPart[]) {
      const keys = Object.values(KEYMAP[part]).flatMap((one: { keys: readonly string[] }) => one.keys)
      expect([part, keys.filter((key, k) => keys.indexOf(key) < k)]).toEqual([part, []])
    }
  })
  it('are found by what was pressed, and nothing where they mean nothing', () => {
    expect(actOf('table', press('z', { ctrl: true }))).toBe('undo')
    expect(actOf('table', press('Z', { ctrl: true, shift: true }))).toBe('redo')
    expect(actOf('table', press('A', { shift: true }))).toBe('take all')
    expect(actOf('table', press('a', { ctrl: true }))).toBe('all')
    expect(actOf('bench', press(' '))).toBe('stop')
    expect(actOf('bench', press('r', { ctrl: true }))).toBeNull()
    expect(actOf('everywhere', press('5', { alt: true }))).toBe('stage')
  })
  it('are all on the page of their screen, pairs told once', () => {
    const change = keysOf('change')
    expect(change.filter((one) => one.shown === 'Ctrl-Z, Ctrl-Y')).toHaveLength(1)
    expect(change.map((one) => one.shown)).toContain('Shift-A')
    expect(keysOf('spark').length).toBeGreaterThan(change.length)
    expect(keysOf('brief')).toEqual(keysOf('nowhere'))
    for (const [part, acts] of Object.entries(KEYMAP).filter(([name]) => name === 'bench' || name === 'field')) {
      const shown = keysOf(part === 'field' ? 'mixture' : part).map((one) => one.shown)
      expect(Object.values(acts as object).every((one: { shown: string }) => shown.includes(one.shown))).toBe(true)
    }
  })
})
