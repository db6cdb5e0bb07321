import { changeSet, createSet, deleteSet, findSet, listSets } from '../store/sets'
import type { Workshop } from '../acts/questions/ask'
import type { Handlers } from './handlers'

export const setHandlers = ({ store }: Workshop) =>
  ({
    allSets: () => listSets(store),
    sets: async ({ job }) => listSets(store, (await job()).id),
    addSet: async ({ job, body }) => createSet(store, (await job()).id, body),
    set: ({ at }) => findSet(store, at.set, at.job),
    changeSet: ({ at, body }) => changeSet(store, at.job, at.set, body),
    deleteSet: ({ at }) => deleteSet(store, at.job, at.set),
  }) satisfies Partial<Handlers>
