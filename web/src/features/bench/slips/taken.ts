import { computed, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { Slip, Tips } from '@/features/bench/live/desk'

/** Instruments of a bench: those that can be taken, and those that lie on the desk. `picked`: the place on the thread
 * that is open, to which the next one is put; `mayGoOn` asks for the measures that go with one. */
export function useTaken(
  slips: Ref<Slip[]>,
  reach: Ref<Schemas['ReachOut'] | undefined>,
  picked: Ref<string>,
  mayGoOn: (instrument: string) => Promise<boolean>,
) {
  const { t } = useI18n()
  const groups = computed(() => [
    {
      label: t('live.instruments'),
      entries: (reach.value?.instruments ?? []).map((entry) => ({ value: entry.id, label: entry.label })),
    },
  ])

  async function take(id: string) {
    if (!(await mayGoOn(id))) return
    const place = reach.value?.parts.find((entry) => entry.sensor === picked.value)?.name
    const wire = reach.value?.plugs.find((plug) => plug.sensor === picked.value)?.plug
    const key = Math.max(0, ...slips.value.map((slip) => slip.key)) + 1
    slips.value = [{ key, id, place, wire }, ...slips.value]
  }

  /** A lead is put on the drawn circuit: on the multimeter that is out, or on one that is taken for it. */
  async function probe(tips: Tips) {
    if (!slips.value.some((slip) => slip.id === 'multimeter')) await take('multimeter')
    const meter = slips.value.find((slip) => slip.id === 'multimeter')
    if (meter) meter.tips = { ...meter.tips, ...tips }
  }

  /** Instruments that fit on this engine; one that was kept from elsewhere is none. */
  const inUse = computed(() =>
    slips.value.flatMap((slip) => {
      const instrument = reach.value?.instruments.find((entry) => entry.id === slip.id)
      return instrument ? [{ ...slip, instrument }] : []
    }),
  )
  return { groups, take, probe, inUse }
}
