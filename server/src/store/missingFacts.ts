import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import { FACT_CHANNELS, runFacts, type RunKind } from '@yuzumix/core'
import { toFloats } from './floats'

/** Tells the facts of runs that were stored before runs had any, or before all of them were told. */
export async function tellMissingFacts(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const runs = await sequelize.query<{ id: string; kind: RunKind }>(
    `SELECT id, kind FROM runs WHERE facts IS NULL OR facts NOT LIKE '%"spark"%' OR facts NOT LIKE '%"settledFromRpm"%' OR facts NOT LIKE '%"sweeps"%'
      OR (kind = 'hand readings' AND facts NOT LIKE '%"rounds"%')`,
    { type: QueryTypes.SELECT, transaction },
  )
  for (const { id, kind } of runs) {
    const columns = await sequelize.query<{ channel: string; data: Buffer }>(
      `SELECT channel, data FROM channels WHERE runId = $id`,
      { type: QueryTypes.SELECT, bind: { id }, transaction },
    )
    const wanted = columns.filter(({ channel }) => (FACT_CHANNELS as readonly string[]).includes(channel))
    const facts = runFacts(Object.fromEntries(wanted.map(({ channel, data }) => [channel, toFloats(data)])), kind)
    await sequelize.query(`UPDATE runs SET facts = $facts WHERE id = $id`, {
      bind: { id, facts: JSON.stringify(facts) },
      transaction,
    })
  }
}
