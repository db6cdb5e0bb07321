import { api, asBytes, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())

const MACHINE = { name: 'Curlew 437', cylinders: 1, displacementCc: 437, strokes: 4 }
const newJob = (more: object = {}): Promise<string> =>
  server.newJob({ title: 'Short silencer', machine: MACHINE, ...more })

describe('notes', () => {
  /** A whole PNG of one pixel. */
  const PNG = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  )
  const note = (job: string) => server.call().post(api(`/jobs/${job}/entries`))
  it('keep their photo to the byte, where they are pinned, and go through the archive', async () => {
    const job = await newJob()
    const { body: entry } = await note(job)
      .field('text', 'Plug of the short silencer')
      .field('rpm', '4500')
      .field('load', '20')
      .attach('photo', PNG, 'plug.png')
      .expect(201)
    expect(entry).toMatchObject({ kind: 'note', rpm: 4500, load: 20, photo: 'image/png' })
    const photo = await server
      .call()
      .get(api(`/jobs/${job}/entries/${entry.id}/photo`))
      .expect(200)
    expect(photo.body).toEqual(PNG)
    await server
      .call()
      .post(api(`/jobs/${job}/complaints`))
      .send({ word: 'hunts' })
      .expect(201)
    await server
      .call()
      .patch(api(`/jobs/${job}/rig/battery`))
      .send({ done: true })
      .expect(200)

    const ledger = api(`/jobs/${job}/put-back`)
    const fan = (
      await server.call().post(ledger).send({ what: 'Fan', was: '103 °C', now: '88 °C', due: 'road' }).expect(201)
    ).body.id
    await server.call().patch(`${ledger}/${fan}`).send({ photo: 'no such line' }).expect(400)
    await server.call().patch(`${ledger}/${fan}`).send({ photo: entry.id }).expect(200)

    const zip = await server
      .call()
      .get(api(`/jobs/${job}/archive`))
      .buffer()
      .parse(asBytes)
      .expect(200)
    const copy = (
      await server
        .call()
        .post(api('/archives'))
        .attach('file', zip.body as Buffer, 'job.zip')
        .expect(201)
    ).body.id
    const again = (await server.call().get(api(`/jobs/${copy}/entries`))).body.find(
      (one: { kind: string }) => one.kind === 'note',
    )
    expect(again).toMatchObject({ text: 'Plug of the short silencer', rpm: 4500, photo: 'image/png' })
    expect((await server.call().get(api(`/jobs/${copy}/entries/${again.id}/photo`))).body).toEqual(PNG)
    // The line of the ledger shows its own copy of the photo, and is still open.
    expect((await server.call().get(api(`/jobs/${copy}/put-back`))).body).toMatchObject([
      { what: 'Fan', photo: again.id, back: false },
    ])
    expect((await server.call().get(api(`/jobs/${copy}/complaints`))).body).toMatchObject([{ word: 'hunts' }])
    expect(
      (await server.call().get(api(`/jobs/${copy}/rig`))).body.find((one: { id: string }) => one.id === 'battery').done,
    ).toBe(true)
  })
  it.each([
    [
      'a HEIC',
      Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypheic0000mif1heic'), Buffer.alloc(400)]),
      422,
    ],
    ['a picture that is cut off', PNG.subarray(0, 50), 422],
    ['a text', Buffer.from('this is no picture'), 422],
    ['a photo of 40 MB', Buffer.alloc(40 * 1024 ** 2, 1), 413],
  ])('%s is refused, and nothing is kept', async (_what, data, status) => {
    const job = await newJob()
    await note(job).field('text', 'a note').attach('photo', data, 'photo').expect(status)
    expect(
      (await server.call().get(api(`/jobs/${job}/entries`))).body.filter(
        (one: { kind: string }) => one.kind === 'note',
      ),
    ).toEqual([])
  })
  it('without words, or pinned to a run that is not there, are refused', async () => {
    const job = await newJob()
    await note(job).field('rpm', '3000').expect(400)
    await note(job).field('text', 'x').field('run', 'none').expect(400)
  })
})
