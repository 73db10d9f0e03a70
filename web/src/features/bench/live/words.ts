import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Doing } from '@/features/bench/live/line'

/** What was done, in few words: for marks under the lanes and for the list. */
export function useDone() {
  const { t, te } = useI18n()
  const { faultKinds, catalogue } = useCatalogue()

  function gearWord(doing: Doing): string {
    return t(`live.gear.${String(doing.gear)}`)
  }

  const special: Record<string, (doing: Doing) => Record<string, unknown>> = {
    turn_key: (doing) => ({ to: t(`live.keyTo.${String(doing.to)}`) }),
    move_pedal: (doing) => ({ to: Math.round(100 * Number(doing.to)) }),
    hold_speed: (doing) => ({ rpm: Math.round(Number(doing.rpm)) }),
    hold_load: (doing) => ({
      share: doing.share === 'cruise' ? t('live.asCruise') : `${Math.round(100 * Number(doing.share))} %`,
    }),
    drive: (doing) => ({ gear: gearWord(doing) }),
    put_fault: (doing) => ({ fault: faultWord(doing.fault as { kind: string }) }),
    hold_actuator: (doing) => ({ actuator: doing.actuator, share: Math.round(100 * Number(doing.share ?? 1)) }),
    size_fault: (doing) => ({ name: doing.name, size: sizes(doing.params as Record<string, unknown>) }),
    surround: (doing) => doing.weather as Record<string, unknown>,
    pull_plug: (doing) => ({ plug: plugWord(String(doing.circuit)) }),
    put_plug: (doing) => ({ plug: plugWord(String(doing.circuit)) }),
  }

  function faultWord(fault: { kind: string }): string {
    return faultKinds.value.get(fault.kind)?.label ?? fault.kind
  }

  function plugWord(circuit: string): string {
    return catalogue.value?.circuits[circuit] ?? circuit
  }

  function sizes(params: Record<string, unknown>): string {
    return Object.values(params)
      .map((value) => String(value))
      .join(', ')
  }

  function done(doing: Doing): string {
    if (doing.do === 'mark') return String(doing.words)
    const key = `live.did.${doing.do}`
    return te(key) ? t(key, { ...doing, ...special[doing.do]?.(doing) }) : doing.do
  }

  return { done, faultWord, catalogue }
}
