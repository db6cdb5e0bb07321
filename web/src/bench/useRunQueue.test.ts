import { computed, nextTick, ref, shallowRef } from 'vue'
import type { RigSample, RunScript } from '@yuzumix/core'
import type { Bench } from './useBench'
import { useRunQueue } from './useRunQueue'

const SWEEP: RunScript = { kind: 'sweep', stop: 60, fromRpm: 3000, toRpm: 8000, rate: 700, gear: 4 }

/** A bench that only remembers what it was asked to run. */
function standIn(coolant: number) {
  const news = shallowRef<{ script: object | null; recording: boolean; stopped: boolean } | null>({
    script: null,
    recording: false,
    stopped: false,
  })
  const sample = shallowRef({ coolant } as RigSample)
  const isDriving = ref(true)
  const refused = ref('')
  const ran: RunScript[] = []
  let stops = 0
  const bench = {
    news,
    sample,
    isDriving,
    refused,
    isBusy: computed(() => news.value?.script != null),
    run: (script: RunScript) => ran.push(script),
    stop: () => stops++,
  } as unknown as Bench
  return {
    bench,
    ran,
    refused,
    isDriving,
    stops: () => stops,
    async starts() {
      news.value = { script: {}, recording: false, stopped: false }
      await nextTick()
    },
    async ends(stopped = false) {
      news.value = { script: null, recording: false, stopped }
      await nextTick()
    },
    async reads(celsius: number) {
      sample.value = { coolant: celsius } as RigSample
      await nextTick()
    },
  }
}

describe('runs one after the other', () => {
  it('a cold engine is warmed first, then each run follows the one before', async () => {
    const rig = standIn(30)
    const queue = useRunQueue(rig.bench)
    queue.start([SWEEP, SWEEP])
    expect([queue.left.value, queue.total.value, queue.head.value]).toEqual([3, 3, 'Warm-up to 80 °C'])
    for (let k = 1; k <= 3; k++) {
      expect(rig.ran).toHaveLength(k)
      await rig.starts()
      await rig.ends()
    }
    expect(rig.ran.map((one) => one.kind)).toEqual(['warm-up', 'sweep', 'sweep'])
    expect(queue.isRunning.value).toBe(false)
  })
  it('a warm one is not', () => {
    const rig = standIn(84)
    useRunQueue(rig.bench).start([SWEEP])
    expect(rig.ran).toEqual([SWEEP])
  })
  it('a run that is stopped gives up those that wait', async () => {
    const rig = standIn(84)
    const queue = useRunQueue(rig.bench)
    queue.start([SWEEP, SWEEP, SWEEP])
    await rig.starts()
    await rig.ends(true)
    expect([queue.left.value, rig.ran.length]).toEqual([0, 1])
  })
  it('so does the stop key, a refusal, and letting go of the wheel', async () => {
    for (const give of ['stop', 'refused', 'let go']) {
      const rig = standIn(84)
      const queue = useRunQueue(rig.bench)
      queue.start([SWEEP, SWEEP])
      if (give === 'stop') queue.stop()
      if (give === 'refused') rig.refused.value = 'Somebody else drives.'
      if (give === 'let go') rig.isDriving.value = false
      await nextTick()
      expect(queue.isRunning.value).toBe(false)
      expect(rig.stops()).toBe(give === 'stop' ? 1 : 0)
    }
  })
  it('a hot engine waits until it has cooled', async () => {
    const rig = standIn(84)
    const queue = useRunQueue(rig.bench)
    queue.start([SWEEP, SWEEP])
    await rig.starts()
    await rig.reads(106)
    await rig.ends()
    expect(rig.ran).toHaveLength(1)
    await rig.reads(95)
    expect(rig.ran).toHaveLength(2)
  })
})
