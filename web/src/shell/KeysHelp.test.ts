/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { keysOf } from '@/parts/keys/keymap'
import KeysHelp from './KeysHelp.vue'

let route = 'change'
jest.mock('vue-router', () => ({ useRoute: () => ({ name: route }) }))

it.each(['change', 'bench', 'brief'])('the page of keys shows those of the screen: %s', (screen) => {
  route = screen
  const stubs = { ElDialog: { template: '<div><slot /></div>' } }
  const wrapper = mount(KeysHelp, { props: { modelValue: true }, global: { stubs } })
  const shown = wrapper.findAll('dt').map((one) => one.text())
  expect(shown).toEqual(keysOf(screen).map((one) => one.shown))
})
