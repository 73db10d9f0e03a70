import type { Schemas } from '@/api/client'

export type StationView = Schemas['StationOut']

/** What a learner has entered at a station; the server stores exactly this. */
export interface Answer {
  reading?: string
  verdicts?: (string | null)[]
  cause?: string
  seen?: boolean
}

/** An empty answer of the shape that a station asks for. */
export function emptyAnswer(station: StationView): Answer {
  if (station.kind === 'measure') return { reading: '' }
  if (station.kind === 'judge') return { verdicts: station.readings.map(() => null) }
  if (station.kind === 'conclude') return {}
  return { seen: true }
}

/** What is still missing before an answer can be stored; undefined when nothing is. */
export function missing(station: StationView, answer: Answer): 'reading' | 'verdicts' | 'cause' | undefined {
  if (station.kind === 'measure' && !answer.reading?.trim()) return 'reading'
  if (station.kind === 'judge' && station.readings.some((_, k) => !answer.verdicts?.[k])) return 'verdicts'
  if (station.kind === 'conclude' && answer.cause === undefined) return 'cause'
  return undefined
}

/** Place on this device where an answer waits until the server has it. */
export function keptUnder(attempt: number | string, index: number): string {
  return `leitfaden.answer.${attempt}.${index}`
}
