// @vitest-environment happy-dom
import type { VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import SliderRow from '@/parts/controls/SliderRow.vue'
import PickOne from '@/parts/choice/PickOne.vue'
import { mounted } from '@/testing/mounted'

let page: VueWrapper
afterEach(() => page.unmount())

describe('a number under the hand', () => {
  function slider(more: object = {}) {
    page = mounted(SliderRow, { label: 'Pedal', value: 10, low: 0, high: 100, unit: '%', ...more }, { ElSlider: true })
  }
  const hand = () => page.getComponent({ name: 'ElSlider' })
  const told = () => page.emitted('slide')

  it('is told while it moves, with its unit', async () => {
    slider()
    expect(page.get('.value').text()).toBe('10 %')
    hand().vm.$emit('input', 40)
    hand().vm.$emit('change', 40)
    expect(told()).toEqual([[40]])
    await page.vm.$nextTick()
    expect(page.get('.value').text()).toBe('40 %')
  })

  it('is told only when the hand lets go, where what it does takes long', async () => {
    slider({ settled: true })
    hand().vm.$emit('input', 30)
    hand().vm.$emit('input', 40)
    expect(told()).toBeUndefined()
    await page.vm.$nextTick()
    expect(page.get('.value').text()).toBe('40 %')
    hand().vm.$emit('change', 40)
    expect(told()).toEqual([[40]])
  })

  it('follows what somebody else has set, and reads in the person’s words', async () => {
    slider({ words: (value: number) => `${value} of a hundred` })
    await page.setProps({ value: 70 })
    expect(page.get('.value').text()).toBe('70 of a hundred')
    expect(hand().props('formatValueText')()).toBe('70 of a hundred')
  })
})

describe('one of a few', () => {
  const choices = ['off', 'on', 'start'].map((id) => ({ id, label: id.toUpperCase() }))

  it('is a group of buttons under one name, with the chosen one pressed', async () => {
    page = mounted(ChoiceRow, { label: 'Key', value: 'on', choices })
    expect(page.get('[role=group]').attributes('aria-label')).toBe('Key')
    const pressed = page.findAll('button').map((entry) => entry.attributes('aria-pressed'))
    expect(pressed).toEqual(['false', 'true', 'false'])
    await page.findAll('button')[2]!.trigger('click')
    expect(page.emitted('choose')).toEqual([['start']])
  })
})

describe('one of many', () => {
  it('is found by typing, has a name, and never chooses nothing', async () => {
    const groups = [{ label: 'Air', entries: [{ value: 'maf', label: 'Mass airflow' }] }]
    page = mounted(PickOne, { value: '', groups, label: 'Channel' }, { ElSelect: true })
    const select = page.getComponent({ name: 'ElSelect' })
    expect(select.props('filterable')).toBe(true)
    expect(select.props('ariaLabel')).toBe('Channel')
    expect(select.props('modelValue')).toBeUndefined()
    select.vm.$emit('update:modelValue', '')
    select.vm.$emit('update:modelValue', 'maf')
    expect(page.emitted('choose')).toEqual([['maf']])
  })
})
