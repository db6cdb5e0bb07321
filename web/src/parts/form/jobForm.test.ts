import { checkInput, newJobSchema, type Job } from '@yuzumix/core'
import { formFrom, jobFrom } from './jobForm'

describe('a job as a form holds it', () => {
  it('a form with a title only is a job that the server takes', () => {
    const job = jobFrom({ ...formFrom(), title: '  Dunlin 125 ' })
    expect(checkInput(newJobSchema, job)).toBeTruthy()
    expect(job).toMatchObject({ title: 'Dunlin 125', machine: { strokes: 4 }, fuel: { id: 'e5' }, use: 'road' })
    expect('name' in job.machine!).toBe(false)
  })
  it('what a job says comes back unchanged', () => {
    const job = {
      title: 'Godwit',
      machine: { name: 'Godwit 712', cylinders: 2, displacementCc: 712, strokes: 4 },
      fuel: { id: 'custom', stoichAfr: 13.9 },
      gaugeScale: 14.6,
      use: 'track',
      fitted: 'Open lid',
      complaint: 'Flat on top',
      tuner: 'Who turns the screws',
      workshop: 'Shed by the weir',
      rider: '',
      identity: 'frame GD-712-0042',
    } as Job
    expect(jobFrom(formFrom(job))).toEqual(job)
  })
  it('a ratio is sent for a custom fuel only', () => {
    expect(jobFrom({ ...formFrom(), title: 'x', fuel: 'e10', stoichAfr: 12 }).fuel).toEqual({ id: 'e10' })
  })
})
