import { expect, it } from 'vitest'
import { inside } from '@/parts/prose/inside'

it.each([
  ['Hot idle', 'hot idle'],
  ['A day in the workshop', 'a day in the workshop'],
  ['MAF signal', 'MAF signal'],
  ['O2 cell', 'O2 cell'],
  ['Intake air sensor (IAT)', 'intake air sensor (IAT)'],
  ['', ''],
])('a label "%s" is "%s" in a sentence', (label, there) => {
  expect(inside(label)).toBe(there)
})
