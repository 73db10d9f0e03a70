import type { InjectionKey, Ref } from 'vue'
import type { Schemas } from '@/api/client'

/** How choices are made step by step where their consequence is told at once; elsewhere they are part of the answer. */
export interface StepByStep {
  /** Steps that are taken at the station that is open. */
  taken: Readonly<Ref<Schemas['TakenStepOut'][]>>
  /** Make a choice: it stays, and what comes of it is told. */
  take: (index: number, name: string, choice: string) => Promise<void>
}
export const STEPS: InjectionKey<StepByStep> = Symbol('steps of a station')
