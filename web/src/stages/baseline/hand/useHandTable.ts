import { useStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { flatteredBanks, jobTarget, readNumber, readReading, targetOn, type HandReading } from '@yuzumix/core'
import { signed } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { useDisplay } from '@/stores/display'

/**
 * Readings as they are typed, line by line, with what each comes to; kept in this browser until they become a run.
 *
 * @param onEnd what an empty line asks for
 */
export function useHandTable(onEnd: () => void) {
  const open = useJob()
  const display = useDisplay()
  const banks = useStorage(`yuzumix.hand.${open.job!.id}.banks`, Math.min(4, open.job!.machine?.cylinders ?? 1))
  const loadAxis = useStorage<'throttle' | 'manifold'>(`yuzumix.hand.${open.job!.id}.axis`, 'throttle')
  /** Cells as typed, kept in this browser until they become a run: rpm, load, then a cell for each bank. */
  const rows = useStorage<string[][]>(`yuzumix.hand.${open.job!.id}.rows`, [[]])

  const scale = computed(() => open.job!.gaugeScale)
  /** with a column of exhaust gas for each bank, °C */
  const withExhaust = useStorage(`yuzumix.hand.${open.job!.id}.exhaust`, false)
  const columns = computed(() => 2 + banks.value * (withExhaust.value ? 2 : 1))
  /** The load of a line is suggested: alone it is no line that was begun. */
  const isBlank = (row: readonly string[]): boolean => row.every((cell, c) => c === 1 || (cell ?? '').trim() === '')
  const number = (text: string | undefined): number => readNumber(text ?? '')

  /** What a row comes to, or what is wrong with it. */
  interface Judged {
    reading: HandReading | null
    fault: string
    said: string
  }
  const judged = computed<Judged[]>(() =>
    rows.value.map((row) => {
      if (isBlank(row)) return { reading: null, fault: '', said: '' }
      const [rpm, load] = [number(row[0]), number(row[1])]
      const texts = Array.from({ length: banks.value }, (_, bank) => (row[2 + bank] ?? '').trim())
      if (!(rpm >= 300 && rpm <= 30000)) return { reading: null, fault: 'rpm from 300 to 30 000', said: '' }
      const most = loadAxis.value === 'throttle' ? 105 : 400
      if (!(load >= 0 && load <= most))
        return {
          reading: null,
          fault: loadAxis.value === 'throttle' ? 'throttle in %' : 'manifold pressure in kPa',
          said: '',
        }
      const ranges = texts.map((text) => readReading(text, scale.value))
      const bad = ranges.find((one) => typeof one === 'string')
      if (typeof bad === 'string') return { reading: null, fault: bad, said: '' }
      const known = ranges.flatMap((one) => (one && typeof one === 'object' ? [(one.low + one.high) / 2] : []))
      if (known.length === 0) return { reading: null, fault: 'no reading yet', said: '' }
      if (!withExhaust.value) return { reading: { rpm, load, readings: texts }, fault: '', said: say(rpm, load, known) }
      const exhaustC = Array.from({ length: banks.value }, (_, bank) => {
        const text = (row[2 + banks.value + bank] ?? '').trim()
        return text === '' ? null : number(text)
      })
      if (exhaustC.some((one) => one !== null && !(one >= 0 && one <= 1300)))
        return { reading: null, fault: 'exhaust gas from 0 to 1300 °C', said: '' }
      return { reading: { rpm, load, readings: texts, exhaustC }, fault: '', said: say(rpm, load, known) }
    }),
  )
  /** Against the target, and what the average of the banks hides. */
  function say(rpm: number, load: number, lambda: number[]): string {
    const target = targetOn({ rpm: [rpm], load: [load] }, loadAxis.value, jobTarget(open.job!))[0]![0]!
    const mean = lambda.reduce((sum, value) => sum + value, 0) / lambda.length
    const found = flatteredBanks(lambda, target)
    const change = `${signed(100 * (mean / target - 1))} % against ${display.mixture(target)} ${display.mixtureUnit}`
    return found
      ? `${change}: the average flatters. Bank ${found.leanest} is ${signed(found.leanestPct)} %, bank ${found.richest} ${signed(found.richestPct)} %.`
      : change
  }
  const readings = computed(() => judged.value.flatMap((one) => one.reading ?? []))
  const unfinished = computed(() => judged.value.filter((one, k) => !one.reading && !isBlank(rows.value[k]!)).length)

  const grid = ref<HTMLElement>()
  async function focus(row: number, column: number): Promise<void> {
    await nextTick()
    const cell = grid.value?.querySelector<HTMLInputElement>(`[data-cell="${row}:${column}"]`)
    cell?.focus()
    cell?.select()
  }
  function setCell(row: number, column: number, text: string): void {
    const next = rows.value.map((cells) => [...cells])
    next[row]![column] = text
    rows.value = next
  }
  /** The next row as it most likely goes on: the same step in rpm, the same throttle. */
  function suggestRow(after: number): string[] {
    const [last, before] = [rows.value[after]!, rows.value[after - 1]]
    const [rpm, load] = [number(last[0]), last[1] ?? '']
    const step = before && before[1] === last[1] ? rpm - number(before[0]) : NaN
    return [Number.isFinite(rpm + step) && step !== 0 ? String(rpm + step) : '', load]
  }
  function goOn(row: number, column: number): void {
    const cells = rows.value[row]!
    if (column === 0 && (cells[0] ?? '').trim() === '' && row > 0) return onEnd()
    // Where rpm and throttle are suggested and fit, Enter goes straight to the reading.
    if (column + 1 < columns.value) return void focus(row, column + 1)
    if (row + 1 === rows.value.length) rows.value = [...rows.value, suggestRow(row)]
    void focus(row + 1, rows.value[row + 1]![0] ? 2 : 0)
  }
  function dropRow(row: number): void {
    rows.value = rows.value.length > 1 ? rows.value.filter((_, k) => k !== row) : [[]]
    void focus(Math.min(row, rows.value.length - 1), 0)
  }
  function clear(): void {
    rows.value = [[]]
  }
  return {
    banks,
    withExhaust,
    loadAxis,
    rows,
    columns,
    scale,
    judged,
    readings,
    unfinished,
    grid,
    focus,
    setCell,
    goOn,
    dropRow,
    clear,
  }
}
