/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import FileButton from './FileButton.vue'

function shown(more: object = {}) {
  const button = mount(FileButton, {
    props: { name: 'Table file', accept: '.csv', ...more },
    slots: { default: 'Read' },
  })
  const input = button.find('input').element
  let value = ''
  Object.defineProperty(input, 'value', {
    get: () => value,
    set(now: string) {
      value = now
    },
  })
  return {
    button,
    input,
    async choose(...files: File[]) {
      value = files[0]?.name ?? ''
      Object.defineProperty(input, 'files', { value: files, configurable: true })
      await button.find('input').trigger('change')
    },
    value: () => value,
  }
}

describe('a button that asks for a file', () => {
  it('opens the choice, and hands over what is chosen', async () => {
    const { button, input, choose } = shown()
    let opened = 0
    input.click = () => opened++
    await button.find('button').trigger('click')
    expect(opened).toBe(1)
    const file = new File(['x'], 'trim.csv')
    await choose(file)
    expect(button.emitted('chosen')).toEqual([[file]])
  })
  it('lets the same file be chosen again, and nothing come of a choice given up', async () => {
    const { button, choose, value } = shown()
    await choose(new File(['x'], 'trim.csv'))
    expect(value()).toBe('')
    await choose()
    expect(button.emitted('chosen')).toHaveLength(1)
  })
  it('asks for the camera only where a picture is wanted', () => {
    expect(shown().input.getAttribute('capture')).toBeNull()
    expect(shown({ camera: true, accept: 'image/*' }).input.getAttribute('capture')).toBe('environment')
  })
})
