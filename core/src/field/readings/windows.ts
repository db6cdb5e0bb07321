/** Stretches of readings that stand for all, where more would tell no more, and their share of all. */
export interface Windows {
  windows: readonly (readonly [from: number, to: number])[]
  share: number
}

/** Readings that are looked at one by one; and how long a stretch of more is, so that whole passes lie in it. */
const MOST = 60_000
const STRETCH = 1500

/** Windows evenly over so many readings: all of them where they are few. */
export function windowsOver(count: number): Windows {
  if (count <= MOST) return { windows: [[0, count]], share: 1 }
  const stretches = Math.ceil(MOST / STRETCH)
  const windows = Array.from({ length: stretches }, (_, k) => {
    const from = Math.floor((k * (count - STRETCH)) / (stretches - 1))
    return [from, from + STRETCH] as const
  })
  return { windows, share: (stretches * STRETCH) / count }
}
