import { computed, ref, watch, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Catalogue } from '@/api/catalogue'
import { copied } from '@/features/lessons/clipboard'
import type { Lesson } from '@/features/lessons/draft'
import { drivesOf } from '@/features/lessons/drives'
import { remedied, type Remedy } from '@/features/lessons/remedies'
import { adapted, placed } from '@/features/lessons/stations'
import type { Kind, Station } from '@/parts/stations/kind'
import { freshId, newStation } from '@/parts/stations/kinds'

/** The thread of a lesson's stations in a trainer's hands: which one is chosen (-1: the lesson itself), and all that changes
 * them. */
export function useArranging(document: Ref<Lesson | undefined>, catalogue: Ref<Catalogue | undefined>) {
  const { t } = useI18n()
  const selected = ref(-1)
  const station = computed(() => document.value?.stations[selected.value])

  /** What is undone may have taken the chosen station away. */
  watch(document, (next) => (selected.value = Math.min(selected.value, (next?.stations.length ?? 0) - 1)))

  function changeLesson(part: Partial<Lesson>) {
    if (document.value) document.value = { ...document.value, ...part }
  }

  function changeStation(next: Station) {
    if (!document.value) return
    changeLesson({ stations: document.value.stations.map((old, k) => (k === selected.value ? next : old)) })
  }

  function place(from: number, to: number) {
    if (!document.value || to < 0 || to >= document.value.stations.length) return
    changeLesson({ stations: placed(document.value.stations, from, to) })
    selected.value = to
  }

  function remove(index: number) {
    const stations = document.value?.stations ?? []
    if (!stations[index] || stations.length === 1) return
    changeLesson({ stations: stations.filter((_, k) => k !== index) })
    selected.value = Math.min(index, stations.length - 2)
  }

  function remedy(id: string, made: Remedy) {
    if (document.value) document.value = remedied(document.value, id, made)
  }

  function pick(id: string) {
    selected.value = document.value?.stations.findIndex((s) => s.id === id) ?? -1
  }

  function insert(station: Station, at: number) {
    const stations = [...(document.value?.stations ?? [])]
    stations.splice(at, 0, station)
    changeLesson({ stations })
    selected.value = at
  }

  function add(kind: Kind) {
    if (!document.value) return
    const { stations, rig: engine, script } = document.value
    const drive = drivesOf(document.value, catalogue.value).find((entry) => entry.id === script)
    const rig = catalogue.value?.rigs.find((entry) => entry.id === engine)
    const begun = newStation(
      kind,
      t(`stations.${kind}.name`),
      stations.map((s) => s.id),
    )
    insert(adapted(begun, drive?.conditions ?? [], rig?.channels ?? []), stations.length)
  }

  /** The copied station, behind the chosen one. */
  function paste() {
    if (!document.value || !copied.value) return
    const { stations } = document.value
    const id = freshId(
      copied.value.kind,
      stations.map((s) => s.id),
    )
    insert({ ...copied.value, id }, selected.value < 0 ? stations.length : selected.value + 1)
  }

  return { selected, station, changeLesson, changeStation, place, remove, remedy, pick, add, paste }
}
