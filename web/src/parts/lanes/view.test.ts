// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import type { Lanes } from '@/parts/lanes/geometry'
import { useView } from '@/parts/lanes/view'

const LANES = {
  time: Array.from({ length: 201 }, (_, k) => k / 2),
  seconds: 100,
  windows: [
    { condition: 'hot_idle', start: 20, end: 30 },
    { condition: 'cruise_80', start: 60, end: 70 },
  ],
} as unknown as Lanes

function viewed(condition: string | null = null) {
  const focus = ref(condition)
  const lanes = ref(LANES)
  const view = effectScope().run(() =>
    useView(
      () => lanes.value as Lanes,
      () => focus.value,
    ),
  )!
  const key = (name: string, more: KeyboardEventInit = {}) =>
    view.onKey(new KeyboardEvent('keydown', { key: name, ...more }))
  return { ...view, focus, lanes, key }
}

describe('what of a run is in view', () => {
  it('begins with the whole run, the cursor in hot idle', () => {
    const { range, cursor, window } = viewed()
    expect(range.value).toEqual([0, 100])
    expect(cursor.value).toBe(25)
    expect(window.value?.condition).toBe('hot_idle')
  })

  it('begins around the condition that a station asks about, with what comes before and after', () => {
    const { range, cursor } = viewed('cruise_80')
    expect(cursor.value).toBe(65)
    expect(range.value[0]).toBeLessThan(60)
    expect(range.value[1]).toBeGreaterThan(70)
  })

  it('goes from condition to condition by key, and stays at the last', () => {
    const { key, cursor } = viewed()
    key(']')
    expect(cursor.value).toBe(65)
    key(']')
    expect(cursor.value).toBe(65)
    key('[')
    expect(cursor.value).toBe(25)
  })

  it('moves its cursor by key within the run, ten times as far with shift', () => {
    const { key, cursor } = viewed()
    key('ArrowRight')
    expect(cursor.value).toBeCloseTo(25.5, 9)
    key('ArrowRight', { shiftKey: true })
    expect(cursor.value).toBeCloseTo(30.5, 9)
    for (let k = 0; k < 30; k += 1) key('ArrowLeft', { shiftKey: true })
    expect(cursor.value).toBe(0)
  })

  it('moves in smaller steps the nearer one looks', () => {
    const { key, cursor, show, whole } = viewed()
    show([20, 30])
    key('ArrowRight')
    expect(cursor.value).toBeCloseTo(25.05, 9)
    whole()
    key('ArrowRight')
    expect(cursor.value).toBeCloseTo(25.55, 9)
  })

  it('leaves keys alone that are typed into a field', () => {
    const { onKey, cursor } = viewed()
    const field = document.createElement('input')
    field.addEventListener('keydown', onKey)
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight' }))
    expect(cursor.value).toBe(25)
  })

  it('follows another drive, and another condition that is asked about', async () => {
    const { range, cursor, focus, lanes } = viewed()
    focus.value = 'cruise_80'
    await nextTick()
    expect(cursor.value).toBe(65)
    focus.value = null
    lanes.value = { ...LANES, seconds: 40, windows: [] } as unknown as Lanes
    await nextTick()
    expect(range.value).toEqual([0, 40])
    expect(cursor.value).toBe(20)
  })
})
