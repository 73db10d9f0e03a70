import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Rig } from '@/api/catalogue'
import { grouped } from '@/parts/choice/groups'

/** Kinds of faults that an engine can have, along the way of the air, as the places stand in the messages. */
export function useFaultGroups(rig: () => Rig | undefined, place: () => string | undefined = () => undefined) {
  const { t, tm } = useI18n()
  const { catalogue } = useCatalogue()
  return computed(() => {
    const places = Object.keys(tm('place'))
    const offered = (catalogue.value?.faults ?? []).filter(
      (kind) => (!rig() || kind.id in (rig()?.faults ?? {})) && (!place() || kind.place === place()),
    )
    return grouped(
      [...offered].sort((a, b) => places.indexOf(a.place) - places.indexOf(b.place)),
      (kind) => t(`place.${kind.place}`),
      (kind) => ({ value: kind.id, label: kind.label }),
    )
  })
}
