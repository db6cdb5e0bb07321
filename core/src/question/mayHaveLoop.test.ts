import { mayHaveLoop } from './mayHaveLoop'
import { DEFAULT_JETTING } from '../contract/jetting'

describe('a closed loop', () => {
  it('may hold an injected machine, and one of which nothing is said', () => {
    expect(mayHaveLoop({ rigging: { fuelling: 'injected' }, jetting: null })).toBe(true)
    expect(mayHaveLoop({ rigging: undefined, jetting: null })).toBe(true)
  })
  it('has no place in a carburettor', () => {
    expect(mayHaveLoop({ rigging: { fuelling: 'carburetted' }, jetting: null })).toBe(false)
    expect(mayHaveLoop({ rigging: undefined, jetting: DEFAULT_JETTING })).toBe(false)
  })
  it('is or is not as the rig says, whatever the fuelling', () => {
    expect(mayHaveLoop({ rigging: { fuelling: 'injected', closedLoop: 'no closed loop' }, jetting: null })).toBe(false)
    expect(mayHaveLoop({ rigging: { fuelling: 'carburetted', closedLoop: 'closed loop' }, jetting: null })).toBe(true)
  })
})
