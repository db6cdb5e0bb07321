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

it('a step pressed while the one before is under way is taken, and only once', async () => {
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
