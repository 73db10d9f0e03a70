import { expect, it } from 'vitest'
import { bankOf } from '@/features/atlas/bank'

it('tells bank and sensor of an oxygen sensor, and nothing of a thermometer', () => {
  expect(bankOf('ho2s_b2s1')).toEqual({ bank: 2, sensor: 1 })
  expect(bankOf('iat')).toBeUndefined()
})
