import { computed, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { inOne, useTold } from '@/api/told'
import { handsOn } from '@/features/bench/live/handsOn'
import type { useLine, Vehicle } from '@/features/bench/live/line'
import type { Knot } from '@/parts/thread/layout'

type Line = ReturnType<typeof useLine>

/** What the thread is drawn from: the engine, what can be reached on it, what hands have done, and this instant. */
export interface Bench {
  rig: Ref<Schemas['RigOut'] | undefined>
  reach: Ref<Schemas['ReachOut'] | undefined>
  vehicle: Line['vehicle']
  now: Line['now']
  marks: Line['marks']
}

/** Hands that have touched nothing yet. */
const IDLE = { closed: [], held: {}, parts: [] as string[] } as unknown as Vehicle

/** The way of air and exhaust through the engine on a running bench: sensors with what they display, parts between them with
 * what is true there, and what branches off. */
export function useThread({ rig, reach, vehicle, now, marks }: Bench) {
  const { t } = useI18n()
  const { channels } = useCatalogue()
  const { toldOf } = useTold()

  const say = (name: string | undefined) => toldOf(name, now.value?.values[name ?? ''])

  function isUnplugged(sensor: string): boolean {
    const plugs = reach.value?.plugs.filter((plug) => plug.sensor === sensor) ?? []
    return plugs.some((plug) => vehicle.value?.unplugged.includes(plug.circuit))
  }

  const sensors = computed(() =>
    (rig.value?.sensors ?? []).map((sensor): Knot => {
      const [display, , truth] = sensor.channels
      const value = say(display)
      const true_ = say(truth)
      const parted = marks.value.parted.includes(sensor.id)
      const made = marks.value.substitutes.includes(display ?? '')
      return {
        id: sensor.id,
        label: sensor.term,
        sub: `${sensor.name}, ${sensor.place}`,
        value: value.text,
        unit: value.unit,
        family: sensor.family,
        note: [
          isUnplugged(sensor.id) ? t('live.unplugged') : '',
          made ? t('player.substitute') : '',
          parted ? t('live.truthIs', { value: inOne(true_) }) : '',
        ]
          .filter(Boolean)
          .join(', '),
        alarm: parted || made,
      }
    }),
  )

  const way = computed(() => reach.value?.way)
  /** Sensors and parts in the order in which air and exhaust pass them. */
  const knots = computed(() => {
    const known = new Map<string, Knot>(sensors.value.map((knot) => [knot.id, knot]))
    for (const part of way.value?.parts ?? []) {
      const value = channels.value.has(part.channels[0] ?? '') ? say(part.channels[0]) : undefined
      const touched = handsOn(part, vehicle.value ?? IDLE).flatMap((group) => group.entries.filter((entry) => entry.on))
      known.set(part.id, {
        id: part.id,
        label: part.label,
        sub: part.name,
        value: value?.text,
        unit: value?.unit,
        minor: true,
        note: touched.length ? t('live.touched') : '',
        alarm: touched.length > 0,
      })
    }
    const order = way.value?.order ?? [...known.keys()]
    return order.flatMap((id) => known.get(id) ?? [])
  })
  const branches = computed(() =>
    (way.value?.branches ?? []).map((branch) => ({
      ...branch,
      sub: branch.name,
      note: branch.hoses.some((hose) => vehicle.value?.closed.includes(hose)) ? t('live.clamped') : '',
    })),
  )
  /** Parts between the sensors, and branches, by their name. */
  const parts = computed(
    () => new Map([...(way.value?.parts ?? []), ...(way.value?.branches ?? [])].map((p) => [p.id, p])),
  )
  return { knots, branches, parts }
}
