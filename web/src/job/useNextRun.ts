import { ref, shallowRef, watch, type Ref } from 'vue'
import type { NextOfJob } from '@yuzumix/core'
import { api } from '@/api/client'
import { grouped } from '@/parts/numbers/format'
import { useJob } from './openJob'

/**
 * The run that takes most doubt away per minute, asked anew when runs, tables or the job's own settings changed; of these
 * when they are saved, for the server answers by what it has.
 *
 * @param wanted while it is false nothing is asked, and nothing told
 */
export function useNextRun(wanted: Ref<boolean>) {
  const open = useJob()
  const answer = shallowRef<NextOfJob | null>(null)
  const problem = ref('')
  const asking = ref(false)
  const settings = (): string => JSON.stringify([open.job?.plan, open.job?.limits, open.job?.mixture])
  const saved = ref(settings())
  watch(
    () => open.saving,
    (now) => now === 'saved' && (saved.value = settings()),
  )
  let round = 0
  async function ask(): Promise<void> {
    const mine = ++round
    asking.value = true
    problem.value = ''
    try {
      const found = await api.nextRun(open.job!.id, {})
      if (mine === round) answer.value = found
    } catch (error) {
      if (mine === round) [answer.value, problem.value] = [null, (error as Error).message]
    } finally {
      if (mine === round) asking.value = false
    }
  }
  watch(
    () =>
      [
        wanted.value,
        open.job?.id,
        open.runs.length,
        ...open.fuelTables.map((one) => one.revisions.length),
        saved.value,
      ].join(),
    () => {
      if (open.job && wanted.value) return void ask()
      round++
      ;[answer.value, problem.value, asking.value] = [null, '', false]
    },
    { immediate: true },
  )
  return { answer, problem, asking, ask }
}

/** Such a run in words. */
export function nextRunWords({ kind, load, fromRpm, toRpm }: NonNullable<NextOfJob['next']>): string {
  return kind === 'hold'
    ? `Hold at ${load} %, ${grouped(fromRpm)} rpm`
    : `Sweep ${toRpm < fromRpm ? 'down ' : ''}at ${load} %, ${grouped(fromRpm)} to ${grouped(toRpm)} rpm`
}
