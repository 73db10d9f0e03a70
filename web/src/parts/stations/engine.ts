import type { Component, InjectionKey } from 'vue'
import type { Schemas } from '@/api/client'

/** How a station comes to its running engine: a page that can give one says so; elsewhere there is none. */
export interface EngineDoor {
  /** The bench of a station, as it was left, or put up anew as it was at first. */
  open: (index: number, anew: boolean) => Promise<Schemas['BenchRow']>
  /** What draws a bench. */
  view: Component
}
export const ENGINE: InjectionKey<EngineDoor> = Symbol('engine of a station')
