<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { placeWord } from '@/features/bench/slips/reading'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import PickOne from '@/parts/choice/PickOne.vue'

/** How an instrument is used: where it is put, what is set on it, and in which state of the engine it is read. */
const props = defineProps<{
  instrument: Schemas['InstrumentOut']
  /** States in which it may be used. */
  states: { id: string; label: string }[]
  /** The one that the engine is in now. */
  now: string | null
  /** The one that is chosen. */
  condition: string
  /** Whether the names of what it shows are covered. */
  covered: boolean
}>()
const places = defineModel<string[]>('places', { required: true })
const options = defineModel<Record<string, string>>('options', { required: true })
/** `slid`: a number goes on moving; `chosen`: one of few was chosen, once. */
const emit = defineEmits<{ state: [id: string]; cover: [on: boolean]; slid: []; chosen: [] }>()
const { t } = useI18n()
const { channels } = useCatalogue()

const entries = computed(() =>
  props.states.map(({ id, label }) => ({
    value: id,
    label: id === props.now ? `${label} (${t('live.asNow')})` : label,
  })),
)
const groups = computed(() => [
  {
    label: props.instrument.label,
    entries: props.instrument.places.map((name) => ({
      value: name,
      label: placeWord(name, channels.value, props.instrument.words),
    })),
  },
])

/** Channels of one family, to be taken together: more of them come less often. */
const MOST_TOGETHER = 8
const together = computed(() => {
  const families = new Map<string, string[]>()
  if (props.instrument.several !== ',') return []
  for (const name of props.instrument.places) {
    const family = channels.value.get(name)?.family
    if (family) families.set(family, [...(families.get(family) ?? []), name])
  }
  return [...families].filter(([, names]) => names.length > 1)
})
function takeTogether(event: Event) {
  const list = event.target as HTMLSelectElement
  const names = together.value.find(([family]) => family === list.value)?.[1]
  if (names) places.value = names.slice(0, MOST_TOGETHER)
  list.value = ''
}

function setNumber(id: string, value: number | number[]) {
  options.value = { ...options.value, [id]: String(value) }
  emit('slid')
}

function steps(option: Schemas['OptionOut']): number {
  return 10 ** Math.floor(Math.log10((option.high - option.low) / 50))
}
</script>

<template>
  <div class="settings small">
    <div v-for="(name, k) in places" :key="k" class="setting" :class="{ tall: instrument.several === '/' }">
      <span class="label">{{
        t(instrument.several === '/' ? (k ? 'live.black' : 'live.red') : k ? 'live.andAt' : 'live.at')
      }}</span>
      <PickOne
        :value="name"
        :groups="groups"
        :label="t('live.at')"
        @choose="(next) => (places = places.map((old, j) => (j === k ? next : old)))"
      />
      <button
        v-if="instrument.several === ',' && places.length > 1"
        type="button"
        class="plain"
        :aria-label="t('bench.removeFault')"
        @click="places = places.filter((_, j) => j !== k)"
      >
        ×
      </button>
    </div>
    <button
      v-if="instrument.several === ',' && places.length < 4"
      type="button"
      class="plain more"
      @click="places = [...places, instrument.places.find((name) => !places.includes(name)) ?? '']"
    >
      + {{ t('live.another') }}
    </button>
    <div v-if="together.length" class="setting">
      <span class="label">{{ t('live.together') }}</span>
      <select :aria-label="t('live.together')" @change="takeTogether">
        <option value="">{{ t('live.chooseTogether') }}</option>
        <option v-for="[family, names] in together" :key="family" :value="family">
          {{ t(`family.${family}`) }} ({{ Math.min(names.length, MOST_TOGETHER) }})
        </option>
      </select>
    </div>
    <label v-if="together.length && places.length > 1" class="setting cover">
      <input type="checkbox" :checked="covered" @change="emit('cover', ($event.target as HTMLInputElement).checked)" />
      {{ t('live.cover') }}
    </label>
    <div
      v-for="option in instrument.options"
      :key="option.id"
      class="setting"
      :class="{ short: option.choices.length, tall: !option.choices.length }"
    >
      <span class="label">{{
        option.choices.length || !option.unit ? option.label : `${option.label}, ${option.unit}`
      }}</span>
      <select v-if="option.choices.length" v-model="options[option.id]" @change="emit('chosen')">
        <option v-for="choice in option.choices" :key="choice" :value="choice">{{ choice }}</option>
      </select>
      <template v-else-if="option.high > option.low">
        <ElSlider
          :model-value="Number(options[option.id])"
          :min="option.low"
          :max="option.high"
          :step="steps(option)"
          :show-tooltip="false"
          :aria-label="option.label"
          @input="(value: number | number[]) => setNumber(option.id, value)"
        />
        <span class="number">{{ options[option.id] }}</span>
      </template>
      <input v-else v-model="options[option.id]" type="text" :placeholder="option.unit" />
    </div>
    <div class="setting">
      <span class="label">{{ t('live.state') }}</span>
      <ChooseOne :value="condition" :entries="entries" :label="t('live.state')" @choose="(id) => emit('state', id)" />
    </div>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  grid-template-columns: 1fr 1fr;
  align-items: end;
  gap: 0 8px;
}
.setting,
.more {
  grid-column: 1 / -1;
}
.setting {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 4px 0;
}
.cover {
  align-items: baseline;
}
.setting.cover input {
  flex: none;
}
.setting > .label {
  flex: 0 0 58px;
}
.setting select,
.setting input {
  flex: 1;
}
.setting :deep(.el-slider) {
  flex: 1;
  height: 22px;
  margin-left: 6px;
}
.setting .number {
  flex: 0 0 40px;
}
.setting.short select {
  flex: none;
}
.setting.short {
  grid-column: auto;
  flex-direction: column;
  align-items: stretch;
  gap: 0;
}
.setting.tall {
  flex-wrap: wrap;
  gap: 0 8px;
}
.setting.tall > .label {
  flex: 1 1 100%;
}
.setting.short > .label {
  flex: none;
}
.plain {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 2px 4px;
}
.more {
  justify-self: start;
}
</style>
