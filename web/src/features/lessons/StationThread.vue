<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import PickOne from '@/parts/choice/PickOne.vue'
import type { Kind, Station } from '@/parts/stations/kind'
import { copied } from '@/features/lessons/clipboard'
import { KINDS } from '@/parts/stations/kinds'

/** The lesson as a thread that runs down the page: the car first, then the stations. */
const props = defineProps<{ stations: Station[]; selected: number; warned: string[]; commented: string[] }>()
const emit = defineEmits<{
  pick: [index: number]
  place: [from: number, to: number]
  remove: [index: number]
  add: [kind: Kind]
  copy: [index: number]
  paste: []
}>()
const { t } = useI18n()

const PASTE = 'paste'
/** The station that is being dragged, and the one that it is held over. */
const held = ref<number>()
const over = ref<number>()
function drop(to: number) {
  if (held.value !== undefined && held.value !== to) emit('place', held.value, to)
  held.value = over.value = undefined
}

const addable = computed(() => {
  const pasted = copied.value ? [{ value: PASTE, label: t('editor.paste', { title: copied.value.title }) }] : []
  return [
    { label: '', entries: [...pasted, ...KINDS.map((kind) => ({ value: kind, label: t(`stations.${kind}.name`) }))] },
  ]
})
function add(what: string) {
  if (what === PASTE) emit('paste')
  else emit('add', what as Kind)
}
function branchOf(station: Station): string {
  const { station: id, result, percent } = station.given_if ?? {}
  const title = props.stations.find((entry) => entry.id === id)?.title ?? '?'
  return t('editor.branch.mark', { who: t(`editor.branch.${result ?? 'below'}`), percent: percent ?? 60, title })
}
const total = computed(() => props.stations.reduce((sum, station) => sum + (station.minutes ?? 0), 0))
</script>

<template>
  <nav class="thread" :aria-label="t('editor.stations')">
    <button type="button" class="knot first" :class="{ on: selected < 0 }" @click="emit('pick', -1)">
      <i></i><span>{{ t('editor.lessonPart') }}</span>
    </button>
    <div
      v-for="(station, k) in stations"
      :key="station.id"
      class="row"
      :class="{ held: held === k, over: over === k && held !== k, below: over === k && (held ?? 0) < k }"
      draggable="true"
      @dragstart="held = k"
      @dragend="held = over = undefined"
      @dragover.prevent="over = k"
      @drop.prevent="drop(k)"
    >
      <button
        type="button"
        class="knot"
        :class="{ on: selected === k }"
        :aria-current="selected === k"
        :title="t('editor.moveHint')"
        @click="emit('pick', k)"
        @keydown.alt.up.prevent="emit('place', k, k - 1)"
        @keydown.alt.down.prevent="emit('place', k, k + 1)"
      >
        <i></i>
        <span class="words">
          <span class="label">{{ t(`stations.${station.kind}.name`) }}</span>
          <span>{{ station.title }}</span>
          <span v-if="station.minutes" class="small soft">{{ t('editor.min', { n: station.minutes }) }}</span>
          <span v-if="station.given_if" class="small soft">{{ branchOf(station) }}</span>
          <span v-if="warned.includes(station.id)" class="small warned">{{ t('editor.warned') }}</span>
          <span v-if="commented.includes(station.id)" class="small soft">{{ t('editor.commented') }}</span>
        </span>
      </button>
      <span v-if="selected === k" class="tools">
        <button
          type="button"
          :disabled="k === 0"
          :title="t('editor.up')"
          :aria-label="t('editor.up')"
          @click="emit('place', k, k - 1)"
        >
          ↑
        </button>
        <button
          type="button"
          :disabled="k === stations.length - 1"
          :title="t('editor.down')"
          :aria-label="t('editor.down')"
          @click="emit('place', k, k + 1)"
        >
          ↓
        </button>
        <button type="button" :title="t('editor.copy')" :aria-label="t('editor.copy')" @click="emit('copy', k)">
          <svg viewBox="0 0 12 12" width="11" height="11" aria-hidden="true">
            <path d="M1.5 1.5h6v6h-6zM4.5 4.5h6v6h-6z" fill="none" stroke="currentColor" />
          </svg>
        </button>
        <button
          type="button"
          :disabled="stations.length === 1"
          :title="t('editor.remove')"
          :aria-label="t('editor.remove')"
          @click="emit('remove', k)"
        >
          ×
        </button>
      </span>
    </div>
    <p v-if="total" class="small soft total">{{ t('editor.total', { n: total }) }}</p>
    <PickOne
      class="add"
      value=""
      :groups="addable"
      :label="t('editor.add')"
      :prompt="`+ ${t('editor.add')}`"
      @choose="add"
    />
  </nav>
</template>

<style scoped>
.total {
  margin: 6px 0 6px 27px;
}
.thread {
  position: relative;
}
.thread::before {
  content: '';
  position: absolute;
  left: 9px;
  top: 0;
  bottom: 36px;
  border-left: 2.5px solid var(--accent);
}
.row {
  position: relative;
}
.knot {
  position: relative;
  display: flex;
  gap: 10px;
  width: 100%;
  border: 0;
  background: none;
  color: var(--text);
  text-align: left;
  padding: 7px 6px 7px 4px;
  cursor: pointer;
  line-height: 1.25;
}
.knot i {
  flex: none;
  width: 13px;
  height: 13px;
  margin-top: 2px;
  border: 2.5px solid var(--accent);
  border-radius: 50%;
  background: var(--surface);
}
.knot.on {
  background: var(--surface-strong);
}
.knot.on i {
  background: var(--accent);
}
.words {
  display: flex;
  flex-direction: column;
  padding-right: 14px;
}
.on .words {
  padding-right: 44px;
}
.warned {
  color: var(--suspect);
}
.tools {
  position: absolute;
  right: 2px;
  top: 5px;
}
.tools button {
  border: 0;
  background: none;
  padding: 1px 4px;
  cursor: pointer;
  color: var(--text);
}
.tools button:disabled {
  color: var(--edge);
  cursor: default;
}
.row.held {
  opacity: 0.5;
}
.row.over {
  box-shadow: inset 0 2px 0 var(--accent);
}
.row.over.below {
  box-shadow: inset 0 -2px 0 var(--accent);
}
.add {
  margin: 8px 0 0 26px;
  width: calc(100% - 30px);
}
</style>
