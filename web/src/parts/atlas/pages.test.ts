// @vitest-environment happy-dom
import { expect, it } from 'vitest'
import { pageOf } from '@/parts/atlas/pages'

const page = (id: string, rigs: string[], sensors: string[], channels: string[]) => ({
  id,
  rigs,
  sensors,
  channels,
  stations: id === 'wastegate' ? ['turbine'] : [],
  title: id,
  family: 'airflow',
  summary: '',
})
const PAGES = [
  page('hot_film', ['R1'], ['maf'], ['maf', 'ltft']),
  page('hot_wire', ['R5'], ['maf'], ['maf']),
  page('wastegate', ['R3'], [], ['wastegate_duty']),
]

it('finds the page of a knot or a channel that the engine has', () => {
  expect(pageOf(PAGES, { knot: 'maf' }, 'R5')?.id).toBe('hot_wire')
  expect(pageOf(PAGES, { knot: 'turbine' }, 'R3')?.id).toBe('wastegate')
  expect(pageOf(PAGES, { channel: 'ltft' }, 'R1')?.id).toBe('hot_film')
  expect(pageOf(PAGES, { knot: 'maf' }, 'R2')).toBeUndefined()
})
