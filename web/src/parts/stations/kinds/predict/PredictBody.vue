<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import ChoiceRows from '@/parts/stations/ChoiceRows.vue'
import type { BodyProps } from '@/parts/stations/kind'
import { useReadings } from '@/parts/stations/readings'

/** Each reading of the sound engine, to go up, down, or stay. */
const props = defineProps<BodyProps<'predict'>>()
const emit = defineEmits<{ change: [answer: Schemas['PredictAnswer']] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
const WAYS = ['higher', 'same', 'lower'] as const
type Way = (typeof WAYS)[number]
const rows = computed(() =>
  props.view.readings.map((reading, k) => ({
    id: String(k),
    label: `${reading.condition_label}, ${reading.label}`,
    detail: withUnit(reading),
  })),
)
const given = computed(() => Object.fromEntries((props.answer.ways ?? []).map((way, k) => [String(k), way])))
const choices = computed(() => WAYS.map((id) => ({ id, label: t(`stations.predict.${id}`) })))
function choose(row: string, choice: string) {
  const ways = props.view.readings.map((_reading, k) =>
    String(k) === row ? (choice as Way) : (props.answer.ways?.[k] ?? null),
  )
  emit('change', { ...props.answer, ways })
}
</script>

<template>
  <p class="if">
    {{ view.what_if ? t('stations.predict.whatIf', { what: view.what_if }) : t('stations.predict.whatIfHidden') }}
  </p>
  <span class="label">{{ t('stations.predict.now') }}</span>
  <ChoiceRows :rows="rows" :choices="choices" :given="given" :name="name" :disabled="disabled" @choose="choose" />
</template>

<style scoped>
.if {
  margin: 0;
  font-weight: 600;
}
</style>
