import { USUAL_GAUGE_SCALE, type Job, type JobChange, type NewJob } from '@yuzumix/core'

/** A job as a form holds it: empty fields are empty, not absent. */
export interface JobForm {
  title: string
  machine: string
  cylinders: number | undefined
  displacementCc: number | undefined
  strokes: number
  forcedInduction: boolean
  fuel: string
  stoichAfr: number | undefined
  gaugeScale: number | undefined
  use: NonNullable<NewJob['use']>
  fitted: string
  complaint: string
  tuner: string
  workshop: string
  rider: string
  identity: string
}

export function formFrom(job?: Job): JobForm {
  return {
    title: job?.title ?? '',
    machine: job?.machine?.name ?? '',
    cylinders: job?.machine?.cylinders,
    displacementCc: job?.machine?.displacementCc,
    strokes: job?.machine?.strokes ?? 4,
    forcedInduction: job?.machine?.forcedInduction ?? false,
    fuel: job?.fuel?.id ?? 'e5',
    stoichAfr: job?.fuel?.stoichAfr,
    gaugeScale: job?.gaugeScale ?? USUAL_GAUGE_SCALE,
    use: job?.use ?? 'road',
    fitted: job?.fitted ?? '',
    complaint: job?.complaint ?? '',
    tuner: job?.tuner ?? '',
    workshop: job?.workshop ?? '',
    rider: job?.rider ?? '',
    identity: job?.identity ?? '',
  }
}

/** What the form says, as the HTTP interface takes it. */
export function jobFrom(form: JobForm): NewJob & JobChange {
  const { title, machine, cylinders, displacementCc, fuel, stoichAfr, gaugeScale, use, fitted, complaint, tuner } = form
  return {
    title: title.trim(),
    machine: {
      ...(machine.trim() && { name: machine.trim() }),
      ...(cylinders !== undefined && { cylinders }),
      ...(displacementCc !== undefined && { displacementCc }),
      strokes: form.strokes,
      ...(form.forcedInduction && { forcedInduction: true }),
    },
    fuel: { id: fuel, ...(fuel === 'custom' && stoichAfr && { stoichAfr }) },
    ...(gaugeScale !== undefined && { gaugeScale }),
    use,
    fitted: fitted.trim(),
    complaint: complaint.trim(),
    // Emptied again they are empty, too.
    tuner: tuner.trim(),
    workshop: form.workshop.trim(),
    rider: form.rider.trim(),
    identity: form.identity.trim(),
  }
}
