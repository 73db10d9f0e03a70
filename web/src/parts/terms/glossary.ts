import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

export type Term = Schemas['TermOut']

/** The glossary, asked once a session. */
export function useGlossary() {
  const query = useQuery({
    queryKey: ['glossary'],
    queryFn: () => unwrap(client.GET('/api/glossary')),
    staleTime: Infinity,
  })
  const terms = computed(() => query.data.value ?? [])
  const finder = computed(() => finderOf(terms.value))
  return { terms, finder }
}

/** A piece of a text: plain, or a word of the glossary with its term. */
export interface Piece {
  text: string
  term?: Term
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** Finds words of the glossary in a text, those left out that were `met`; each once, whole words, the longest first. */
export type Finder = (text: string, met?: Set<Term>) => Piece[]

export function finderOf(terms: Term[]): Finder {
  const byWord = new Map<string, Term>()
  for (const term of terms) {
    byWord.set(term.term.toLowerCase(), term)
    // Abbreviations and names of several words mean one thing only; plain words such as "reading" do not.
    for (const word of [term.full, ...term.also])
      if (/^[A-Z0-9/ ]{2,}$/.test(word) || word.includes(' ')) byWord.set(word.toLowerCase(), term)
  }
  const words = [...byWord.keys()].sort((a, b) => b.length - a.length)
  if (!words.length) return (text) => [{ text }]
  const pattern = new RegExp(`(?<![\\p{L}\\d])(${words.map(escaped).join('|')})(?![\\p{L}\\d])`, 'giu')
  return (text, met = new Set<Term>()) => {
    const pieces: Piece[] = []
    let from = 0
    for (const match of text.matchAll(pattern)) {
      const term = byWord.get(match[0].toLowerCase())
      // A short abbreviation is one only in capitals: "map" on the wall is none.
      if (
        !term ||
        met.has(term) ||
        (term.term.length <= 4 &&
          term.term === term.term.toUpperCase() &&
          match[0] !== match[0].toUpperCase() &&
          !match[0].includes(' '))
      )
        continue
      met.add(term)
      if (match.index > from) pieces.push({ text: text.slice(from, match.index) })
      pieces.push({ text: match[0], term })
      from = match.index + match[0].length
    }
    if (from < text.length) pieces.push({ text: text.slice(from) })
    return pieces
  }
}
