<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** What was done at each stage, and what comes of it. */
const props = defineProps<{ parts: Schemas['MarkedProcedure']['parts'] }>()
const { t } = useI18n()
const chosen = (part: Schemas['MarkedProcedurePart']) => part.choices.find((choice) => choice.id === part.given)
const hurt = computed(() => props.parts.some((part) => chosen(part)?.hurts))
const rows = computed(() =>
  props.parts.map((part) => {
    const best = part.choices.find((choice) => choice.worth === 1)
    const given = chosen(part)
    return {
      id: part.id,
      label: part.situation,
      given: given?.text ?? '',
      right: best?.text ?? '',
      reason:
        given && given.id !== best?.id
          ? `${given.comes} ${t('stations.procedure.best', { text: best?.comes ?? '' }).replace('..', '.')}`
          : (best?.comes ?? ''),
      points: part.points,
    }
  }),
)
</script>

<template>
  <p v-if="hurt" class="hurt">{{ t('stations.procedure.hurts') }}</p>
  <MarkedRows :rows="rows" />
</template>

<style scoped>
.hurt {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
  font-weight: 600;
}
</style>
