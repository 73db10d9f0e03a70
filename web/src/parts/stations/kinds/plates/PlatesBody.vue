<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import PlateDrawing from '@/parts/plates/PlateDrawing.vue'
import type { BodyProps } from '@/parts/stations/kind'

/** Plates, each to be given what it means. */
const props = defineProps<BodyProps<'plates'>>()
const emit = defineEmits<{ change: [answer: Schemas['PlatesAnswer']] }>()
const { t } = useI18n()

function choose(k: number, event: Event) {
  const chosen = (event.target as HTMLSelectElement).value || null
  emit('change', {
    ...props.answer,
    meanings: props.view.plates.map((_plate, j) => (j === k ? chosen : (props.answer.meanings?.[j] ?? null))),
  })
}
</script>

<template>
  <ul>
    <li v-for="(plate, k) in view.plates" :key="k">
      <PlateDrawing :look="plate.look" :sight="plate.sight" />
      <select
        :aria-label="t('stations.plates.means', { n: k + 1 })"
        :value="answer.meanings?.[k] ?? ''"
        :disabled="disabled"
        @change="choose(k, $event)"
      >
        <option value="">{{ t('stations.plates.choose') }}</option>
        <option v-for="meaning in view.meanings" :key="meaning.id" :value="meaning.id">{{ meaning.label }}</option>
      </select>
    </li>
  </ul>
</template>

<style scoped>
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: var(--space-3);
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  gap: var(--space-2);
  justify-items: center;
  border: 1px solid var(--rule);
  background: var(--surface);
  padding: var(--space-2);
}
select {
  width: 100%;
}
</style>
