// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest'
import { defineComponent, h } from 'vue'
import { session, type Me } from '@/api/session'
import { inOne, useTold } from '@/api/told'
import { mounted } from '@/testing/mounted'

const Page = defineComponent({
  setup() {
    const { told, toldOf } = useTold()
    return () => h('p', [toldOf('maf', 10), toldOf('maf', null), told(10, 'mass_flow', 0)].map(inOne).join(' | '))
  },
})

describe('values as text', () => {
  afterEach(() => {
    session.value = undefined
  })

  it.each([
    ['metric', '10.00 g/s | – g/s | 10 g/s'],
    ['imperial', '1.32 lb/min | – lb/min | 1 lb/min'],
  ] as const)("have their channel's digits and the person's unit: %s", (system, text) => {
    session.value = { units: system } as Me
    const page = mounted(Page, {})
    expect(page.text()).toBe(text)
    page.unmount()
  })
})
