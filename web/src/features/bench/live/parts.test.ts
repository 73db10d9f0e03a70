// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import HosesPart from '@/features/bench/live/HosesPart.vue'
import MarkRibbon from '@/features/bench/live/MarkRibbon.vue'
import { mounted } from '@/testing/mounted'

describe('hoses, actuators and parts', () => {
  const reach = { hoses: ['air duct'], actuators: ['purge valve'], parts: [{ name: 'airflow meter', sensor: 'maf' }] }
  const untouched = { closed: [], held: {}, parts: [] }

  function pressed(vehicle: object, name: string): unknown {
    const page = mounted(HosesPart, { reach, vehicle })
    const button = page.findAll('button').find((entry) => entry.text() === name)
    button?.element.click()
    const told = page.emitted('act')?.[0]?.[0]
    page.unmount()
    return told
  }

  it('are clamped, held and exchanged by a press', () => {
    expect(pressed(untouched, 'air duct')).toEqual({ do: 'close_hose', hose: 'air duct' })
    expect(pressed(untouched, 'purge valve')).toEqual({ do: 'hold_actuator', actuator: 'purge valve' })
    expect(pressed(untouched, 'airflow meter')).toEqual({ do: 'fit_part', part: 'airflow meter' })
  })

  it('are let go by another', () => {
    const touched = { closed: ['air duct'], held: { 'purge valve': 1 }, parts: ['airflow meter'] }
    expect(pressed(touched, 'air duct')).toEqual({ do: 'open_hose', hose: 'air duct' })
    expect(pressed(touched, 'purge valve')).toEqual({ do: 'let_actuator_go', actuator: 'purge valve' })
    expect(pressed(touched, 'airflow meter')).toEqual({ do: 'put_part_back', part: 'airflow meter' })
  })
})

describe('marks of what was done', () => {
  const size = (frame: number, area: number) => ({
    frame,
    doing: { do: 'size_fault', name: 'leak', params: { area_mm2: area } },
    words: `now ${area} mm²`,
  })

  function words(events: object[], range = [0, 30], secret = false, wide = 600): string[] {
    const page = mounted(MarkRibbon, { events, range, readingWidth: 150, plotWidth: wide, secret })
    const found = page.findAll('button').map((mark) => mark.text())
    page.unmount()
    return found
  }

  it('are one for a size that is dragged, with where it came to rest', () => {
    expect(words([size(500, 1), size(510, 1.5), size(520, 2), size(1500, 4)])).toEqual(['now 2 mm²', 'now 4 mm²'])
  })

  it('tell nothing of what is wrong while that is hidden, as before a class', () => {
    const snap = { frame: 300, doing: { do: 'snap' }, words: 'snap throttle' }
    const put = { frame: 100, doing: { do: 'put_fault', name: 'leak' }, words: 'put in: leak' }
    const take = { frame: 2000, doing: { do: 'take_fault', name: 'leak' }, words: 'taken out: leak' }
    expect(words([put, snap, size(500, 4), take], [0, 30], true)).toEqual(['snap throttle'])
  })

  it('that have no room beside each other stand below each other', () => {
    const at = (wide: number) => {
      const props = { events: [size(500, 1), size(800, 2)], range: [0, 30], readingWidth: 150, plotWidth: wide }
      const page = mounted(MarkRibbon, props)
      const rows = page.findAll('button').map((mark) => (mark.element as HTMLElement).style.top)
      page.unmount()
      return rows[0] === rows[1]
    }
    expect([at(800), at(400)]).toEqual([true, false])
  })

  it('stand only within what is in view, each with its words for those who cannot see', () => {
    const snap = (frame: number) => ({ frame, doing: { do: 'snap' }, words: 'snap throttle' })
    expect(words([snap(100), snap(2000), snap(9000)], [10, 40])).toEqual(['snap throttle'])
    expect(words(Array.from({ length: 6 }, (_, k) => snap(1000 + 200 * k)))).toHaveLength(6)
  })
})
