/** What may be found; the same list is offered in every case. */
export const DIAGNOSES = [
  { id: 'lean mid-range', name: 'What was fitted makes part of the range lean; the table has to follow' },
  { id: 'rich cylinder', name: 'One cylinder gets more fuel than the other' },
  { id: 'held zone', name: 'A zone is held by the closed loop, so the table does nothing there' },
  { id: 'air leak', name: 'Air leaks in ahead of the sensor, so it reads lean' },
  { id: 'misfire', name: 'A misfire reads lean and is not' },
  { id: 'weak pump', name: 'The fuel supply gives out at the top' },
  { id: 'swapped wires', name: 'Injector wires are swapped between cylinders' },
  { id: 'gauge scale', name: 'The gauge is scaled for another fuel' },
  { id: 'rushing plate', name: 'The plate rushes ahead of the hand; the mixture is not what is felt' },
  { id: 'lean tip-in', name: 'Too little fuel is added as the throttle opens; held still, the mixture is right' },
  { id: 'rough loop exit', name: 'The mixture steps where the closed loop lets go' },
] as const
export type Diagnosis = (typeof DIAGNOSES)[number]['id']
