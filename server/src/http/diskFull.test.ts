import { seededRandom } from '../../../core/src/numbers/random'
import { canMount, SmallDisk } from '../smallDisk'

;(canMount ? describe : describe.skip)('a disk that is full', () => {
  it('at many moments: every answer names it, nothing that was confirmed is lost, and it goes on when there is room', async () => {
    const disk = await SmallDisk.open()
    const { uniform } = seededRandom(40)
    const api = (path: string, init?: RequestInit): Promise<Response> => fetch(`${disk.address}/api/v1${path}`, init)
    const json = (body: object): RequestInit => ({
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
    const rows = Array.from({ length: 3000 }, (_, k) => `${k / 50},${3000 + k},${(0.9 + uniform() / 50).toFixed(4)}`)
    const log = `time,rpm,lambda\n${rows.join('\n')}\n`
    try {
      const first = ((await (await api('/jobs', json({ title: 'First' }))).json()) as { id: string }).id
      const confirmed: string[] = []
      let refusals = 0
      for (let moment = 0; moment < 50; moment++) {
        // All room but some is taken, at another point of the writing each time.
        const left = Math.floor(uniform() * 300)
        await disk.fill(left)
        for (let k = 0; k < 4; k++) {
          const form = new FormData()
          form.set('file', new Blob([log]), 'run.csv')
          form.set('again', 'true')
          const answer =
            k % 2 === 0
              ? await api(`/jobs/${first}/runs`, { method: 'POST', body: form })
              : await api(`/jobs/${first}/sets`, json({ name: `Set ${moment} ${k}` }))
          if (answer.status === 201) {
            const { id } = (await answer.json()) as { id: string }
            confirmed.push(`${k % 2 === 0 ? 'runs' : 'sets'} ${id}`)
          } else {
            refusals++
            expect([answer.status, await answer.json()]).toMatchObject([
              507,
              {
                type: '/problems/disk-full',
                detail: expect.stringMatching(/The disk is full: nothing was stored/) as string,
              },
            ])
          }
        }
        await disk.shell(`rm -f "${disk.folder}/ballast"`)
        // The runs of the rounds before go, so that the disk stays the same.
        if (moment % 5 === 4) {
          for (const one of confirmed.filter((each) => each.startsWith('runs')).slice(0, -1))
            await api(`/jobs/${first}/${one.replace(' ', '/')}`, { method: 'DELETE' })
          confirmed.splice(0, confirmed.length, ...confirmed.filter((each) => each.startsWith('sets')))
        }
        for (const kind of ['runs', 'sets']) {
          const there = new Set(
            ((await (await api(`/jobs/${first}/${kind}`)).json()) as { id: string }[]).map((one) => one.id),
          )
          for (const one of confirmed) if (one.startsWith(kind)) expect(there).toContain(one.split(' ')[1])
        }
      }
      expect(refusals).toBeGreaterThan(20)
      expect((await api('/jobs', json({ title: 'There is room again' }))).status).toBe(201)
      const health = (await (await api('/health')).json()) as { space: { isShort: boolean } }
      expect(health.space.isShort).toBe(true)
    } finally {
      await disk.close()
    }
  })
})
