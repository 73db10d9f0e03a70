// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest'
import { CATALOGUE, mounted } from '@/testing/mounted'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import PickOne from '@/parts/choice/PickOne.vue'

const LEAK = { kind: 'leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } }

function editor(fault: object = LEAK) {
  return mounted(FaultEditor, { fault, rig: CATALOGUE.rigs[0] })
}
let page: ReturnType<typeof editor>
const last = () => page.emitted('change')?.at(-1)?.[0]

describe('fault editor', () => {
  afterEach(() => page.unmount())

  it('offers what this engine can have, along the way of the air', () => {
    page = editor()
    const groups = page.getComponent(PickOne).props('groups')
    expect(groups.map((group: { label: string }) => group.label)).toEqual([
      'Manifold and its hoses',
      'Wiring, supply and parts',
    ])
  })

  it('starts another kind with the first choice that exists here and its middle size', () => {
    page = editor()
    page.getComponent(PickOne).vm.$emit('choose', 'wrong')
    expect(last()).toEqual({ kind: 'wrong', params: { part: 'ect_sensor', gain: 0.8 }, onset: { mode: 'permanent' } })
  })

  it('takes small, medium and large from the catalogue', async () => {
    page = editor()
    await page.findAll('.sizes button').at(2)!.trigger('click')
    expect(last()).toMatchObject({ params: { area_mm2: 4 } })
  })

  it('keeps what cannot be a number as it was', async () => {
    page = editor()
    await page.get('input[type=number]').setValue('')
    expect(page.emitted('change')).toBeUndefined()
  })

  it('marks a size beyond its range', () => {
    page = editor({ ...LEAK, params: { area_mm2: 900 } })
    expect(page.get('input[type=number]').attributes('aria-invalid')).toBe('true')
  })

  it('offers only choices that exist on this engine', () => {
    page = editor({ kind: 'wrong', params: { part: 'iat_sensor', gain: 0.8 }, onset: { mode: 'permanent' } })
    expect(page.findAll('.parameter option').map((option) => option.text())).toContain('IAT sensor')
    expect(page.text()).not.toContain('MAP sensor')
  })

  it('asks for the numbers of a way of coming and going, and refuses those out of range', async () => {
    page = editor()
    await page.get('select.onset').setValue('hot')
    expect(last()).toMatchObject({ onset: { mode: 'hot', above_C: 75 } })
    await page.setProps({ fault: last() })
    const input = page.findAll('input[type=number]').at(-1)!
    await input.setValue('500')
    expect(page.emitted('change')).toHaveLength(1)
    await input.setValue('90')
    expect(last()).toMatchObject({ onset: { mode: 'hot', above_C: 90 } })
  })
})
