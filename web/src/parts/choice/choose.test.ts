// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { mounted } from '@/testing/mounted'
import ChooseOne from '@/parts/choice/ChooseOne.vue'

const entries = (count: number) => Array.from({ length: count }, (_, k) => ({ value: `${k}`, label: `number ${k}` }))

describe('one of a list', () => {
  it('is chosen from a plain list as long as all are seen at a glance', async () => {
    const page = mounted(ChooseOne, { value: '3', entries: entries(10), label: 'Number', none: 'any' })
    expect(page.get('select').attributes('aria-label')).toBe('Number')
    expect(page.findAll('option').map((option) => option.text())[0]).toBe('any')
    await page.get('select').setValue('7')
    await page.get('select').setValue('')
    expect(page.emitted('choose')).toEqual([['7'], ['']])
    page.unmount()
  })

  it('shows what holds, also after a choice that was an act', async () => {
    const page = mounted(ChooseOne, { value: '', entries: entries(3), label: 'Number', none: '' })
    await page.get('select').setValue('2')
    await nextTick()
    expect(page.get<HTMLSelectElement>('select').element.value).toBe('')
    page.unmount()
  })

  it('is found by typing where the list is longer, and can be given up where none may be', async () => {
    const page = mounted(ChooseOne, { value: '3', entries: entries(11), label: 'Number', none: 'any' })
    expect(page.find('select').exists()).toBe(false)
    const list = page.getComponent({ name: 'ElSelect' })
    expect([list.props('filterable'), list.props('clearable'), list.props('modelValue')]).toEqual([true, true, '3'])
    list.vm.$emit('update:modelValue', '10')
    list.vm.$emit('update:modelValue', undefined)
    expect(page.emitted('choose')).toEqual([['10'], ['']])
    page.unmount()
    const must = mounted(ChooseOne, { value: '3', entries: entries(11), label: 'Number' })
    must.getComponent({ name: 'ElSelect' }).vm.$emit('update:modelValue', undefined)
    expect(must.emitted('choose')).toBeUndefined()
    must.unmount()
  })
})
