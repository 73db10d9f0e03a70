<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'
import SketchPlot from './SketchPlot.vue'
import { inside } from '@/parts/prose/inside'

/** The sound engine's trace, to be drawn over. */
const props = defineProps<BodyProps<'sketch'>>()
const emit = defineEmits<{ change: [answer: Schemas['SketchAnswer']] }>()
const { t } = useI18n()
const drawn = computed(() => props.answer.drawn ?? [])
const draw = (next: (number | null)[]) => emit('change', { ...props.answer, drawn: next })

/** The sound trace at the knots: a first stroke to be bent. */
function asSound() {
  const { knots, seconds, sound } = props.view.trace
  draw(
    knots.map((time) => {
      const near = seconds.map((second, k) => (sound[k] === null ? Infinity : Math.abs(second - time)))
      return sound[near.indexOf(Math.min(...near))] ?? null
    }),
  )
}
</script>

<template>
  <p class="if">
    {{ view.what_if ? t('stations.sketch.whatIf', { what: view.what_if }) : t('stations.sketch.whatIfHidden') }}
  </p>
  <p class="asked">
    <b>{{ view.trace.label }}</b> {{ inside(view.trace.condition_label) }}
  </p>
  <SketchPlot :trace="view.trace" :drawn="drawn" :open="!disabled" @draw="draw" />
  <p v-if="!disabled" class="small soft ways">
    <button type="button" class="tool take" @click="asSound">{{ t('stations.sketch.asSound') }}</button>
    {{ t('stations.sketch.how') }}
  </p>
</template>

<style scoped>
.if,
.asked {
  margin: 0;
}
.if {
  font-weight: 600;
}
.ways {
  margin: 0;
}
</style>
