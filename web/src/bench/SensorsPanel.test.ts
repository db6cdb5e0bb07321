/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { nextTick, ref } from 'vue'
import SensorsPanel from './SensorsPanel.vue'
import type { Bench } from './useBench'

const SENSORS = {
  throttleVolts: 4.38,
  freeAirPct: 20.9,
  calibration: { closedVolts: null, openVolts: null, freeAirPct: null },
}

/** The panel on a bench that answers each step when the test says so, with the plate held open. */
function panelOf() {
  const asked: { step: string; done: () => void }[] = []
  const bench = {
    state: ref({ sensors: SENSORS }),
    news: ref(null),
    isDriving: ref(true),
    isBusy: ref(false),
    controls: ref({ throttle: 100 }),
    refresh: () => Promise.resolve(),
    calibrate: (step: string) => new Promise<void>((done) => asked.push({ step, done })),
  }
  const panel = mount(SensorsPanel, { props: { bench: bench as unknown as Bench } })
  const button = (text: string) => panel.findAll('button').find((one) => one.text().includes(text))!
  return { asked, panel, button }
}

it('a step pressed while the one before is under way is taken, and only once', async () => {
  const { asked, panel, button } = panelOf()
  await button('This is wide open').trigger('click')
  await button('This is wide open').trigger('click')
  await button('This is free air').trigger('click')
  expect(asked.map((one) => one.step)).toEqual(['open', 'free-air'])
  asked[0]!.done()
  await nextTick()
  await nextTick()
  await button('This is wide open').trigger('click')
  expect(asked.map((one) => one.step)).toEqual(['open', 'free-air', 'open'])
  panel.unmount()
})

it('the plate stays where it is until the sensor there is read', async () => {
  const { asked, panel, button } = panelOf()
  const isHeld = () => button('Let the plate shut').attributes('disabled') !== undefined
  expect(isHeld()).toBe(false)
  await button('This is wide open').trigger('click')
  expect(isHeld()).toBe(true)
  asked[0]!.done()
  await nextTick()
  await nextTick()
  expect(isHeld()).toBe(false)
  panel.unmount()
})
