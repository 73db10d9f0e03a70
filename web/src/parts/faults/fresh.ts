import type { FaultKind, Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'

type Parameter = Schemas['ParameterOut']
type Params = Schemas['FaultSpec']['params']

/** Circuits, sensors and parts are offered only where the engine has them. */
export function choicesOf(rig: Rig | undefined, kind: string, parameter: Parameter): string[] {
  return rig?.faults[kind]?.[parameter.id] ?? parameter.choices
}

/** A number's range may depend on another parameter: a rail's zero point moves by more than a manifold sensor's. */
export function sized(parameter: Parameter, params: Params): Parameter {
  const choice = String(params?.[parameter.depends_on] ?? '')
  return { ...parameter, ...parameter.ranges[choice] }
}

/** What a parameter starts with: the first choice that exists here, or the middle size. */
export function middle(rig: Rig | undefined, kind: string, parameter: Parameter): number | string {
  const steps = parameter.steps
  return choicesOf(rig, kind, parameter)[0] ?? steps[Math.floor(steps.length / 2)] ?? parameter.low
}

/** What a kind starts with: the first choices that exist here, then the middle sizes that go with them. */
export function fresh(rig: Rig | undefined, kind: FaultKind): Params {
  const needed = kind.parameters.filter((p) => !p.optional)
  const choices = Object.fromEntries(needed.filter((p) => p.choices.length).map((p) => [p.id, middle(rig, kind.id, p)]))
  const sizes = needed.filter((p) => !p.choices.length).map((p) => [p.id, middle(rig, kind.id, sized(p, choices))])
  return { ...choices, ...Object.fromEntries(sizes) }
}
