import { computed, ref, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Doing } from '@/features/bench/live/line'

export type Caution = Schemas['CautionOut']

/** The acts of a doing, as the catalogue of cautions names them. What only undoes something is none. */
export function actsOf(doing: Doing): string[] {
  if (doing.do === 'turn_key') return doing.to === 'start' ? ['do:turn_key'] : []
  if (doing.do === 'connect_charger') return doing.on ? ['do:connect_charger'] : []
  const at = [`do:${doing.do}`]
  if (doing.do === 'close_hose') at.push(`hose:${doing.hose as string}`)
  if (doing.do === 'fit_part') at.push(`part:${doing.part as string}`)
  return at
}

/**
 * Cautions where the act is. Where somebody can be hurt the act stops until its measure is named; what was named once is remembered
 * under `memory`.
 */
export function useCautions(all: Ref<Caution[]>, memory: string) {
  const named = ref<string[]>(read(memory))
  const asked = ref<{ caution: Caution; go: (on: boolean) => void }>()

  const at = (acts: string[]) => all.value.filter((caution) => caution.at.some((act) => acts.includes(act)))
  const words = (acts: string[]) => at(acts).map((caution) => caution.words)

  /** Resolves with whether the act goes on. */
  async function mayGoOn(acts: string[]): Promise<boolean> {
    for (const caution of at(acts)) {
      if (!caution.measures || named.value.includes(caution.id)) continue
      const on = await new Promise<boolean>((go) => (asked.value = { caution, go }))
      asked.value = undefined
      if (!on) return false
      named.value = [...named.value, caution.id]
      localStorage.setItem(memory, JSON.stringify(named.value))
    }
    return true
  }

  return { words, mayGoOn, asked: computed(() => asked.value) }
}

function read(memory: string): string[] {
  try {
    return JSON.parse(localStorage.getItem(memory) ?? '[]') as string[]
  } catch {
    return []
  }
}

/** The three answers in an order that does not give the right one away: by their words. */
export function answersOf(caution: Caution): string[] {
  const { right = '', wrong = [] } = caution.measures ?? {}
  return [right, ...wrong].sort((a, b) => a.localeCompare(b))
}
