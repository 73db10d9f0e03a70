// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { CATALOGUE, mounted } from '@/testing/mounted'
import SheetTable from '@/features/values/SheetTable.vue'

const ROW = {
  channel: { ...CATALOGUE.channels[0], meaning: 'air that passes the meter' },
  unit: 'g/s',
  band: '1.71 … 1.92',
  median: '1.81',
  numbers: {},
  bars: [],
  more: [{ stat: 'min', band: '1.60 … 1.70' }],
  width: 'Friction makes it so wide.',
}
const ASKED = { rig: 'R1', condition: 'hot_idle', elsewhere: false, beside: '', withOwn: false, blank: false }

describe('the table of values', () => {
  function shown(props: object, row: object = {}) {
    return mounted(SheetTable, { ...ASKED, rows: [{ ...ROW, ...row }], ...props }, { AtlasLink: true })
  }

  it('opens a row on why its band is so wide, and closes it again', async () => {
    const page = shown({})
    const name = page.find('button.name')
    expect(page.text()).not.toContain('Friction')
    expect(name.attributes('aria-expanded')).toBe('false')
    await name.trigger('click')
    expect(page.text()).toContain('air that passes the meter')
    expect(page.text()).toContain('Friction makes it so wide.')
    expect(name.attributes('aria-expanded')).toBe('true')
    await name.trigger('click')
    expect(page.text()).not.toContain('Friction')
    page.unmount()
  })

  it('says in words, not only in a drawing, that another engine has nothing in common with it', () => {
    const page = shown({ beside: 'Ferry shuttle' }, { other: { band: '3.00 … 4.00', apart: true } })
    const heads = page.findAll('thead th').map((head) => head.text())
    expect(heads).toContain('Ferry shuttle')
    expect(page.find('td[data-label="Ferry shuttle"]').text()).toContain('3.00 … 4.00')
    expect(page.find('td[data-label="Ferry shuttle"] .apart').exists()).toBe(true)
    page.unmount()
  })

  it('says by which mean engines part whose signals swing alike', () => {
    const other = { band: '0.07 … 0.86', mean: '0.43 … 0.45', apart: true }
    const page = shown({ beside: 'Ferry shuttle' }, { band: '0.07 … 0.87', mean: '0.47 … 0.50', other })
    expect(page.find('td[data-label="Ferry shuttle"]').text()).toMatch(/0\.07 … 0\.86.*mean 0\.43 … 0\.45.*no overlap/s)
    page.unmount()
  })

  it('has room for a reading by hand on the sheet that is printed', () => {
    const plain = shown({})
    expect(plain.findAll('td.room')).toHaveLength(0)
    plain.unmount()
    const page = shown({ blank: true })
    expect(page.findAll('td.room')).toHaveLength(1)
    page.unmount()
  })
})
