<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'
import type { Lesson, Station } from '@/features/lessons/draft'
import ReadingPlaceRow from '@/features/lessons/ReadingPlaceRow.vue'
import FaultEditor from '@/parts/faults/FaultEditor.vue'

type Place = Schemas['ReadingPlace']

/** All that can be changed at one station. Every change goes up as a whole station. */
const props = defineProps<{ station: Station; lesson: Lesson; conditions: string[] }>()
const emit = defineEmits<{ change: [station: Station] }>()
const { t } = useI18n()
const { catalogue, channels, conditions: named } = useCatalogue()
const rig = computed(() => catalogue.value?.rigs.find((r) => r.id === props.lesson.rig))

function change(part: Partial<Station>) {
  emit('change', { ...props.station, ...part } as Station)
}

function value(event: Event): string {
  return (event.target as HTMLInputElement).value
}

function number(event: Event, low: number, high: number): number | undefined {
  const typed = Number(value(event))
  return value(event).trim() === '' || Number.isNaN(typed) ? undefined : Math.min(Math.max(typed, low), high)
}

const places = computed<Place[]>(() => {
  if (props.station.kind === 'judge') return props.station.pool
  return props.station.kind === 'conclude' ? props.station.readings : []
})

function changePlaces(next: Place[]) {
  change(props.station.kind === 'judge' ? { pool: next } : { readings: next })
}

function addPlace() {
  const last = places.value[places.value.length - 1]
  changePlaces([...places.value, { condition: 'hot_idle', channel: 'total_trim', stat: 'mean', ...last }])
}

const causes = computed(() => (props.station.kind === 'conclude' ? props.station.causes : []))

function changeCauses(next: (Schemas['FaultSpec'] | null)[]) {
  change({ causes: next } as Partial<Station>)
}
</script>

<template>
  <div class="form">
    <label class="label" for="station-title">{{ t('editor.title') }}</label>
    <input id="station-title" :value="station.title" maxlength="120" @input="change({ title: value($event) })" />
    <label class="label" for="station-text">
      {{ t('editor.text') }} <span class="hint">{{ t('editor.textHint') }}</span>
    </label>
    <textarea
      id="station-text"
      :value="station.text"
      :rows="station.kind === 'explain' ? 13 : 5"
      @input="change({ text: value($event) })"
    ></textarea>

    <template v-if="station.kind === 'explain'">
      <label class="label" for="drawing">{{ t('editor.drawing') }}</label>
      <select
        id="drawing"
        :value="station.drawing"
        @change="change({ drawing: value($event) as 'none' | 'narrowband' })"
      >
        <option value="none">{{ t('editor.noDrawing') }}</option>
        <option value="narrowband">{{ t('editor.narrowband') }}</option>
      </select>
    </template>

    <template v-else-if="station.kind === 'show'">
      <span class="label">{{ t('editor.channels') }}</span>
      <ol class="lanes">
        <li v-for="(name, k) in station.channels" :key="name">
          <i :style="{ background: `var(--${channels.get(name)?.family})` }"></i>
          {{ channels.get(name)?.label ?? name
          }}<span class="soft">, {{ t(`layer.${channels.get(name)?.layer ?? 'scan'}`) }}</span>
          <button
            v-if="station.channels.length > 1"
            type="button"
            :aria-label="t('bench.removeLane', { label: channels.get(name)?.label ?? name })"
            @click="change({ channels: station.channels.filter((_, j) => j !== k) })"
          >
            ×
          </button>
        </li>
      </ol>
      <ChannelSelect
        v-if="station.channels.length < 8"
        value=""
        :prompt="`+ ${t('bench.addLane')}`"
        :without="station.channels"
        :only="rig?.channels"
        @choose="(name) => change({ channels: [...(station.kind === 'show' ? station.channels : []), name] })"
      />
      <label class="label" for="focus">{{ t('editor.focus') }}</label>
      <select id="focus" :value="station.focus ?? ''" @change="change({ focus: value($event) || null })">
        <option value="">{{ t('editor.wholeScript') }}</option>
        <option v-for="id in conditions" :key="id" :value="id">{{ named.get(id)?.label ?? id }}</option>
      </select>
      <label class="tick">
        <input
          type="checkbox"
          :checked="station.show_good"
          @change="change({ show_good: ($event.target as HTMLInputElement).checked })"
        />
        {{ t('editor.showGood') }}
      </label>
    </template>

    <template v-else-if="station.kind === 'measure'">
      <span class="label">{{ t('editor.asked') }}</span>
      <ReadingPlaceRow
        :place="station.reading"
        :conditions="conditions"
        :only="rig?.channels"
        @change="(reading) => change({ reading })"
      />
      <label class="label" for="tolerance">{{ t('editor.tolerance') }}</label>
      <span>
        <input
          id="tolerance"
          class="short"
          type="number"
          min="0.5"
          max="50"
          step="0.5"
          :value="station.tolerance_percent"
          @change="change({ tolerance_percent: number($event, 0.5, 50) ?? station.tolerance_percent })"
        />
        %
      </span>
      <label class="tick">
        <input
          type="checkbox"
          :checked="station.faulty"
          @change="change({ faulty: ($event.target as HTMLInputElement).checked })"
        />
        {{ t('editor.fromFaulty') }}
      </label>
    </template>

    <template v-else>
      <template v-if="station.kind === 'judge'">
        <label class="label" for="count">{{ t('editor.count') }}</label>
        <input
          id="count"
          class="short"
          type="number"
          min="1"
          max="12"
          :value="station.count"
          @change="change({ count: Math.round(number($event, 1, 12) ?? station.count) })"
        />
      </template>
      <span class="label"
        >{{ t(station.kind === 'judge' ? 'editor.pool' : 'editor.readings') }} ({{ places.length }})</span
      >
      <ReadingPlaceRow
        v-for="(place, k) in places"
        :key="k"
        :place="place"
        :conditions="conditions"
        :only="rig?.channels"
        :removable="places.length > 1"
        @change="(next) => changePlaces(places.map((old, j) => (j === k ? next : old)))"
        @remove="changePlaces(places.filter((_, j) => j !== k))"
      />
      <button type="button" class="add" @click="addPlace">+ {{ t('editor.addReading') }}</button>
      <template v-if="station.kind === 'conclude'">
        <span class="label">{{ t('editor.causes') }}</span>
        <template v-for="(cause, k) in causes" :key="k">
          <FaultEditor
            v-if="cause"
            :fault="cause"
            :rig="rig"
            @change="(next) => changeCauses(causes.map((old, j) => (j === k ? next : old)))"
            @remove="causes.length > 2 && changeCauses(causes.filter((_, j) => j !== k))"
          />
          <p v-else class="sound">
            {{ t('editor.nothingWrong') }}
            <button
              type="button"
              :aria-label="t('editor.removeRow')"
              @click="causes.length > 2 && changeCauses(causes.filter((_, j) => j !== k))"
            >
              ×
            </button>
          </p>
        </template>
        <div v-if="causes.length < 8" class="two">
          <button
            type="button"
            class="add"
            @click="
              changeCauses([
                ...causes,
                { kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } },
              ])
            "
          >
            + {{ t('editor.addCause') }}
          </button>
          <button v-if="!causes.includes(null)" type="button" class="add" @click="changeCauses([...causes, null])">
            + {{ t('editor.nothingWrong') }}
          </button>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.form > .label {
  margin-top: var(--space-2);
}
.hint {
  font-size: 11px;
  opacity: 0.85;
}
.form :deep(input:not([type='checkbox'], [type='radio'])),
.form :deep(select),
textarea {
  border: 1px solid var(--edge);
  background: var(--field);
  padding: 4px 6px;
  font-size: 13px;
  width: 100%;
  min-width: 0;
}
textarea {
  resize: vertical;
  line-height: 1.45;
}
.form :deep(.size input) {
  width: 72px;
}
.form .short {
  width: 76px;
}
.lanes {
  list-style: none;
  margin: 0;
  padding: 0;
}
.lanes li {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  padding: 3px 0;
  white-space: pre;
}
.lanes i {
  width: 4px;
  height: 14px;
  margin-right: 7px;
}
.lanes button,
.sound button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: var(--space-2);
}
.tick input {
  accent-color: var(--accent);
}
.add {
  border: 1px solid var(--rule);
  background: var(--surface);
  color: var(--accent);
  cursor: pointer;
  padding: 4px 10px;
  text-align: left;
  flex: 1;
}
.two {
  display: flex;
  gap: 4px;
}
.sound {
  display: flex;
  border-top: 1px solid var(--rule);
  padding: 6px 4px;
  margin: 0;
  font-weight: 500;
}
</style>
