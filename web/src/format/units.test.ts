import { describe, expect, it } from 'vitest'
import { digitsOf, shown, unitWithReference } from '@/format/units'

const pressure = {
  id: 'pressure_abs',
  label: 'absolute pressure',
  reference: 'absolute',
  metric: 'kPa',
  imperial: 'inHg',
  units: [
    { symbol: 'kPa', factor: 1, offset: 0, extra_digits: 0 },
    { symbol: 'inHg', factor: 0.2953, offset: 0, extra_digits: 0 },
  ],
}
const temperature = {
  ...pressure,
  id: 'temperature',
  reference: '',
  metric: '°C',
  imperial: '°F',
  units: [
    { symbol: '°C', factor: 1, offset: 0, extra_digits: 0 },
    { symbol: '°F', factor: 1.8, offset: 32, extra_digits: 0 },
  ],
}
const trim = {
  ...pressure,
  id: 'trim',
  reference: '',
  metric: '%',
  imperial: '%',
  units: [{ symbol: '%', factor: 1, offset: 0, extra_digits: 0 }],
}

describe('values on the screen', () => {
  it('have as many digits as their display', () => {
    expect(digitsOf(0.01)).toBe(2)
    expect(digitsOf(0.78)).toBe(1)
    expect(digitsOf(1)).toBe(0)
  })
  it('change unit with the person', () => {
    expect(shown(100, pressure, 0.1, 'imperial')).toEqual({ text: '29.5', unit: 'inHg' })
    expect(shown(100, temperature, 1, 'imperial')).toEqual({ text: '212', unit: '°F' })
  })
  it('spell out the reference of a pressure', () => {
    expect(unitWithReference(pressure, 'metric')).toBe('kPa absolute')
  })
  it('show the sign of a trim, and a dash for what is not defined', () => {
    expect(shown(7.25, trim, 0.78, 'metric').text).toBe('+7.3')
    expect(shown(-3.1, trim, 0.78, 'metric').text).toBe('−3.1')
    expect(shown(null, trim, 0.78, 'metric').text).toBe('–')
  })
})
