import type { Schemas } from '@/api/client'

type NewPerson = Schemas['NewPerson']

/** A sign-in name out of a family name: small letters without accents. */
export function signInName(name: string): string {
  const folded = name
    .toLowerCase()
    .replace(/ä/g, 'ae')
    .replace(/ö/g, 'oe')
    .replace(/ü/g, 'ue')
    .replace(/ß/g, 'ss')
    .normalize('NFD')
    .replace(/[^a-z0-9.-]/g, '')
  return folded.slice(0, 40)
}

/** People from lines such as «Lene Vogt» or «Lene Vogt, lvogt»: the part after the comma is the sign-in name. */
export function parsePeople(text: string, role: NewPerson['role']): NewPerson[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const [name = '', given = ''] = line.split(',').map((part) => part.trim())
      const words = name.split(/\s+/)
      const last = words.length > 1 ? (words.pop() ?? '') : ''
      return { first_name: words.join(' '), last_name: last, username: given || signInName(last || name), role }
    })
}
