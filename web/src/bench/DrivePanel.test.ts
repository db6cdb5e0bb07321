/** @jest-environment jsdom */
import { mount } from '@vue/test-utils'
import { computed, nextTick, ref, shallowRef } from 'vue'
import type { Bench } from './useBench'
import DrivePanel from './DrivePanel.vue'

function shown() {
  const connection = ref('opening')
  const news = shallowRef<object | null>(null)
  const acts: string[] = []
  const bench = {
    connection,
    news,
    controls: ref(null),
    sample: ref(null),
    state: ref(null),
    isDriving: computed(() => (news.value as { you?: boolean } | null)?.you === true),
    drive: () => acts.push('drive'),
  }
  const panel = mount(DrivePanel, { props: { bench: bench as unknown as Bench } })
  return { panel, connection, news, acts, wheel: () => panel.find('button') }
}

describe('the wheel', () => {
  it('can be taken once the stream is open: a wish before that would be lost without a word', async () => {
    const { panel, connection, acts, wheel } = shown()
    expect(panel.text()).toContain('Joining the stream.')
    await wheel().trigger('click')
    expect(acts).toEqual([])
    connection.value = 'open'
    await nextTick()
    await wheel().trigger('click')
    expect(acts).toEqual(['drive'])
  })
  it('says who has it', async () => {
    const { panel, connection, news } = shown()
    connection.value = 'open'
    news.value = { driver: true, you: false, script: null }
    await nextTick()
    expect(panel.text()).toContain('Somebody else drives; you watch.')
    news.value = { driver: true, you: true, script: null }
    await nextTick()
    expect(panel.text()).toContain('You drive.')
  })
})
