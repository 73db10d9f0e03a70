import { describe, expect, it } from 'vitest'
import { parsePeople, signInName } from '@/features/school/people'

describe('people from lines', () => {
  it('takes the last word as family name and makes a sign-in name of it', () => {
    expect(parsePeople('Lene Marie Vogt\n\n  Jörg Größe ', 'learner')).toEqual([
      { first_name: 'Lene Marie', last_name: 'Vogt', username: 'vogt', role: 'learner' },
      { first_name: 'Jörg', last_name: 'Größe', username: 'groesse', role: 'learner' },
    ])
  })
  it('takes a sign-in name after a comma', () => {
    expect(parsePeople('Emil Sommer, esommer', 'trainer')[0]?.username).toBe('esommer')
  })
  it('keeps a single word as first name', () => {
    expect(parsePeople('Mira', 'learner')[0]).toEqual({
      first_name: 'Mira',
      last_name: '',
      username: 'mira',
      role: 'learner',
    })
  })
  it('folds accents', () => expect(signInName('Lefèvre')).toBe('lefevre'))
})
