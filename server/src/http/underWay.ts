import type { Request } from 'express'

/** Long work under way, and the share of each that is done: by the id that whoever asked gave. */
export interface UnderWay {
  /** null where no such work is under way */
  share(id: string): number | null
  /** Does work that tells how far it has come, under the id in the request's `X-Import-Id`. */
  follow<T>(request: Request, work: (told: (share: number) => void) => Promise<T>): Promise<T>
}

export function underWay(): UnderWay {
  const shares = new Map<string, number>()
  return {
    share: (id) => shares.get(id) ?? null,
    async follow(request, work) {
      const id = request.get('x-import-id')
      if (!id) return work(() => undefined)
      shares.set(id, 0)
      try {
        return await work((share) => void shares.set(id, share))
      } finally {
        shares.delete(id)
      }
    },
  }
}
