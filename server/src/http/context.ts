import type { Workshop } from '../acts/ask'

/** What every handler works with. */
export type Context = Workshop
