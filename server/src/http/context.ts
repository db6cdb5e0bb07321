import type { Workshop } from '../acts/questions/ask'

/** What every handler works with. */
export type Context = Workshop
