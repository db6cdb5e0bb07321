/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import type { Rigging } from '@yuzumix/core'
import RigChoices from './RigChoices.vue'

const shown = (rigging: Rigging, hasLoop: boolean) => mount(RigChoices, { props: { rigging, hasLoop, cylinders: 1 } })
type Shown = ReturnType<typeof shown>
const chosen = (choices: Shown, label: string): string => choices.find(`[aria-label="${label}"] .is-active`).text()
const press = (choices: Shown, label: string, word: string) =>
  choices
    .findAll(`[aria-label="${label}"] label`)
    .find((one) => one.text() === word)!
    .find('input')
    .setValue(true)

describe('how a machine is fuelled and measured', () => {
  it('has a closed loop or none by its fuelling, until somebody says', () => {
    expect(chosen(shown({}, true), 'Closed loop')).toBe('closed loop')
    expect(chosen(shown({ fuelling: 'carburetted' }, false), 'Closed loop')).toBe('no closed loop')
    expect(chosen(shown({ fuelling: 'carburetted', closedLoop: 'closed loop' }, true), 'Closed loop')).toBe(
      'closed loop',
    )
  })
  it('says what no loop means where fuel is injected, and only there', () => {
    const none = { closedLoop: 'no closed loop' } as const
    expect(shown(none, false).text()).toContain('Only with its sensor unplugged')
    expect(shown({}, true).text()).not.toContain('Only with its sensor unplugged')
    expect(shown({ ...none, fuelling: 'carburetted' }, false).text()).not.toContain('Only with its sensor unplugged')
  })
  it('says what was chosen, one fact at a time', async () => {
    const choices = shown({}, true)
    await press(choices, 'Closed loop', 'no closed loop')
    await press(choices, 'Driven on', 'road')
    expect(choices.emitted('choose')).toEqual([[{ closedLoop: 'no closed loop' }], [{ drive: 'road' }]])
  })
})
