/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { nextTick } from 'vue'
import AirFields from './AirFields.vue'

function shown() {
  const wrapper = mount(AirFields, {
    props: {
      modelValue: { temperatureC: 20, humidityPct: 50 } as Record<string, number>,
      'onUpdate:modelValue': (value) => wrapper.setProps({ modelValue: value as Record<string, number> }),
    },
  })
  const pressure = wrapper.get('input[aria-label="Pressure in kPa"]')
  return { wrapper, pressure }
}

describe('the air as it is typed', () => {
  it('1002 is asked about: no act until it is said that it was hPa, then 100.2 kPa', async () => {
    const { wrapper, pressure } = shown()
    await pressure.setValue('1002')
    await pressure.trigger('keyup.enter')
    await nextTick()
    expect(wrapper.emitted('done')).toBeUndefined()
    await wrapper.get('[role="alert"] button').trigger('click')
    await nextTick()
    expect(wrapper.props('modelValue')).toEqual({ temperatureC: 20, humidityPct: 50, pressureKpa: 100.2 })
    expect(wrapper.emitted('done')).toHaveLength(1)
    expect(wrapper.find('[role="alert"]').exists()).toBe(false)
  })
  it('a pressure in kPa is one act with the others', async () => {
    const { wrapper, pressure } = shown()
    await pressure.setValue('99.4')
    await pressure.trigger('keyup.enter')
    await nextTick()
    expect(wrapper.emitted('done')).toHaveLength(1)
  })
})
