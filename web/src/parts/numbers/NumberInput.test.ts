/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { nextTick } from 'vue'
import NumberInput from './NumberInput.vue'

type Props = InstanceType<typeof NumberInput>['$props']
function shown(props: Partial<Props> = {}) {
  const wrapper = mount(NumberInput, { props: { name: 'Gear', modelValue: 4, min: 1, max: 12, ...props } })
  const input = wrapper.get('input')
  const type = async (text: string): Promise<void> => {
    // Sets off a change as leaving the field does.
    await input.setValue(text)
  }
  const taken = (): unknown[] => (wrapper.emitted('update:modelValue') ?? []).map(([value]) => value)
  return { wrapper, input, type, taken }
}

describe('a number typed or stepped', () => {
  it.each([
    ['4,5', 4.5],
    ['4.5', 4.5],
    [' 7 ', 7],
    ['\u22123', 1],
    ['99', 12],
  ])('"%s" is taken as %d', async (text, value) => {
    const { type, taken } = shown()
    await type(text)
    expect(taken()).toEqual([value])
  })
  it('what is no number is dropped for what was there', async () => {
    const { input, type, taken } = shown()
    await type('about five')
    expect([input.element.value, taken()]).toEqual(['4', []])
  })
  it('an emptied one says so, and shows what it is then given', async () => {
    const { wrapper, input, type, taken } = shown({ placeholder: 'any' })
    await type('')
    expect(taken()).toEqual([undefined])
    await wrapper.setProps({ modelValue: undefined })
    expect([input.element.value, input.attributes('placeholder')]).toEqual(['', 'any'])
  })
  it('steps by keys and by buttons from what is typed, without a tail of ninths', async () => {
    const { wrapper, input, taken } = shown({ modelValue: 0.2, min: 0, step: 0.1 })
    await input.trigger('keydown', { key: 'ArrowUp' })
    await wrapper.setProps({ modelValue: 0.3 })
    await input.trigger('keydown', { key: 'ArrowDown' })
    await input.setValue('1,25')
    await wrapper.findAll('button')[0]!.trigger('click')
    expect(taken()).toEqual([0.3, 0.2, 1.25, 1.35])
  })
  it('keeps to its precision and tells its limits to those who cannot see', async () => {
    const { input, type, taken } = shown({ precision: 1 })
    expect([input.element.value, input.attributes('aria-valuemax'), input.attributes('aria-label')]).toEqual([
      '4.0',
      '12',
      'Gear',
    ])
    expect(input.attributes('role')).toBe('spinbutton')
    await type('5,26')
    expect(taken()).toEqual([5.3])
  })
  it('what was given and not taken stands no longer than a moment', async () => {
    jest.useFakeTimers()
    const { wrapper, input, type } = shown()
    await type('9')
    expect(input.element.value).toBe('9')
    jest.advanceTimersByTime(1000)
    await nextTick()
    expect(input.element.value).toBe('4')
    await type('7')
    await wrapper.setProps({ modelValue: 7 })
    jest.advanceTimersByTime(1000)
    await nextTick()
    expect(input.element.value).toBe('7')
    jest.useRealTimers()
  })
  it('takes nothing while it is disabled', async () => {
    const { wrapper, taken } = shown({ disabled: true })
    await wrapper.findAll('button')[0]!.trigger('click')
    await nextTick()
    expect(taken()).toEqual([])
  })
})
