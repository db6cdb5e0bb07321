import { computed, ref, shallowRef, watch } from 'vue'
import type { NewPass, Pass, PassChange, StripDay } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyDone, notifyWithUndo } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'

/** Passes of the open job, what they tell, and what is done to them. */
export function useStrip() {
  const open = useJob()
  const handling = useHandling()
  const passes = shallowRef<Pass[]>([])
  const day = shallowRef<StripDay | null>(null)
  const busy = ref(false)
  const problem = ref('')
  let round = 0

  async function reload(): Promise<void> {
    const id = open.job!.id
    const mine = ++round
    busy.value = true
    try {
      const [found, told] = await Promise.all([api.passes(id), api.strip(id)])
      if (mine !== round || open.job?.id !== id) return
      ;[passes.value, day.value, problem.value] = [found, told, '']
    } catch (error) {
      if (mine === round) problem.value = (error as Error).message
    } finally {
      if (mine === round) busy.value = false
    }
  }
  watch([() => open.job?.id, () => handling.heard.handling], () => void reload(), { immediate: true })

  async function act<T>(work: (id: string) => Promise<T>): Promise<T | null> {
    const done = await handling.act(work)
    if (done !== null) await reload()
    return done
  }
  async function add(pass: NewPass): Promise<boolean> {
    const made = await act((id) => api.addPass(id, pass))
    const list = made === null ? [] : 'passes' in made ? made.passes : [made]
    if (list.length > 1) notifyDone(`${list.length} passes: ${list.map((one) => one.name).join(', ')}.`)
    return list.length > 0
  }
  /** Takes a pass back, with a way to have it again as a slip or from its run. */
  async function drop(pass: Pass): Promise<void> {
    await act((id) => api.deletePass(id, pass.id))
    notifyWithUndo(`${pass.name} is taken back.`, () => add(again(pass)))
  }
  return {
    passes,
    day,
    busy,
    problem,
    add,
    drop,
    change: (pass: Pass, change: PassChange) => act((id) => api.changePass(id, pass.id, change)),
    /** runs that may hold a pass: they tell how fast the road went by */
    runs: computed(() => open.runs.filter((run) => run.channels.some((one) => one.channel === 'speed'))),
  }
}

/** What a pass was made from. */
function again({ name, set, run, splits, reactionS, weather, note, lifted, rolloutM, trapM, endM }: Pass): NewPass {
  const facts = { name, ...(set !== null && { set }), reactionS, ...(weather && { weather }), note }
  const rules = { rolloutM, trapM, endM }
  return run !== null ? { run, ...rules, ...facts } : { splits, lifted, ...rules, ...facts }
}
