/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import WorkStatus from './WorkStatus.vue'

describe('what a worker is doing', () => {
  it('says what is there while nothing is done', () => {
    const wrapper = mount(WorkStatus, { props: { busy: false, slow: false, doing: 'Fitting …', idle: '3 points' } })
    expect([wrapper.text(), wrapper.find('button').exists()]).toEqual(['3 points', false])
  })
  it('can be stopped once it takes long, and not before', async () => {
    const wrapper = mount(WorkStatus, { props: { busy: true, slow: false, doing: 'Fitting …' } })
    expect(wrapper.find('button').exists()).toBe(false)
    await wrapper.setProps({ slow: true })
    await wrapper.get('button').trigger('click')
    expect([wrapper.text(), wrapper.emitted('stop')]).toEqual(['Fitting … Stop', [[]]])
  })
})
