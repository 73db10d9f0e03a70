<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'
import SheetTable from './SheetTable.vue'

type Part = Schemas['MarkedSheet']['parts'][number]

/** The sheets with what stands out, and what was said beside what is right. */
const props = defineProps<{ parts: Schemas['MarkedSheet']['parts'] }>()
const { t } = useI18n()
const telling = computed(() => props.parts.map((part) => part.readings.flatMap((r, j) => (r.tells ? [j] : []))))
function given(part: Part): string {
  if (!part.given) return ''
  const by = part.given === 'faulty' ? part.readings[part.given_tells ?? -1]?.label : undefined
  return [t(`stations.sheet.${part.given}`), by].filter(Boolean).join(', ')
}
const rows = computed(() =>
  props.parts.map((part, k) => ({
    id: String(k),
    label: t('stations.sheet.engine', { n: k + 1 }),
    given: given(part),
    right: t(`stations.sheet.${part.right}`),
    reason: (part.right === 'faulty'
      ? part.readings.filter((r) => r.tells)
      : part.readings.filter((_r, j) => j === part.given_tells)
    )
      .map((r) => r.reason)
      .join(' '),
    points: part.points,
  })),
)
</script>

<template>
  <SheetTable :sheets="parts.map((part) => part.readings)" :telling="telling" />
  <MarkedRows :rows="rows" />
  <template v-if="parts[0]?.why">
    <span class="label">{{ t('stations.sheet.why') }}</span>
    <p class="why">{{ parts[0].why }}</p>
  </template>
</template>

<style scoped>
.why {
  margin: 0;
  white-space: pre-wrap;
  max-width: 76ch;
}
</style>
