import { describe, expect, it } from 'vitest'
import { shown, tickText, unitWithReference } from '@/format/units'

const pressure = {
  id: 'pressure_abs',
  label: 'absolute pressure',
  reference: 'absolute',
  means: {},
  metric: 'kPa',
  imperial: 'inHg',
  units: [
    { symbol: 'kPa', factor: 1, offset: 0, extra_digits: 0, signed: false },
    { symbol: 'inHg', factor: 0.2953, offset: 0, extra_digits: 0, signed: false },
  ],
}
const temperature = {
  ...pressure,
  id: 'temperature',
  reference: '',
  means: {},
  metric: '°C',
  imperial: '°F',
  units: [
    { symbol: '°C', factor: 1, offset: 0, extra_digits: 0, signed: false },
    { symbol: '°F', factor: 1.8, offset: 32, extra_digits: 0, signed: false },
  ],
}
const trim = {
  ...pressure,
  id: 'trim',
  reference: '',
  means: {},
  metric: '%',
  imperial: '%',
  units: [{ symbol: '%', factor: 1, offset: 0, extra_digits: 0, signed: true }],
}

const speed = {
  ...pressure,
  id: 'speed',
  reference: '',
  means: {},
  metric: '1/min',
  imperial: '1/min',
  units: [{ symbol: '1/min', factor: 1, offset: 0, extra_digits: -2, signed: false }],
}

describe('values on the screen', () => {
  it('have as many digits as their display', () => {
    expect(shown(1.8372, temperature, 2, 'metric').text).toBe('1.84')
    expect(shown(98.7, pressure, 0, 'metric').text).toBe('99')
    expect(shown(700.4, speed, 1, 'metric').text).toBe('700')
  })
  it('say of a state what it means', () => {
    const status = { ...speed, id: 'status', means: { '2': 'closed loop' }, metric: '-', imperial: '-' }
    expect(shown(2, status, 0, 'metric').text).toBe('2 (closed loop)')
    expect(shown(3, status, 0, 'metric').text).toBe('3')
  })
  it('change unit with the person', () => {
    expect(shown(100, pressure, 1, 'imperial')).toEqual({ text: '29.5', unit: 'inHg' })
    expect(shown(100, temperature, 0, 'imperial')).toEqual({ text: '212', unit: '°F' })
  })
  it('spell out the reference of a pressure', () => {
    expect(unitWithReference(pressure, 'metric')).toBe('kPa absolute')
  })
  it('show the sign of a trim, and a dash for what is not defined', () => {
    expect(shown(7.25, trim, 1, 'metric').text).toBe('+7.3')
    expect(shown(-3.1, trim, 1, 'metric').text).toBe('−3.1')
    expect(shown(null, trim, 1, 'metric').text).toBe('–')
  })
})

it('writes numbers beside an axis alike everywhere, with a minus as wide as a digit', () => {
  expect([6000, -2.5, 0.30000000000000004, 100.25, 0].map(tickText)).toEqual(['6000', '−2.5', '0.3', '100.25', '0'])
})
