<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Kept } from '@/features/bench/slips/reading'

/** The list of readings: what was read, where and in which state. */
defineProps<{ readings: Kept[] }>()
const emit = defineEmits<{ change: [readings: Kept[]] }>()
const { t } = useI18n()
</script>

<template>
  <section class="kept">
    <h2>{{ t('live.readings') }}</h2>
    <table class="plain small">
      <tbody>
        <tr v-for="(reading, k) in readings" :key="k">
          <td>
            {{ reading.label }}
            <span class="soft where">{{ reading.where }}</span>
          </td>
          <td class="number">{{ reading.text }}</td>
          <td>
            <button
              type="button"
              :aria-label="t('editor.removeRow')"
              @click="
                emit(
                  'change',
                  readings.filter((_, j) => j !== k),
                )
              "
            >
              ×
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.kept {
  border-top: 1px solid var(--rule);
  padding-top: var(--space-2);
}
table.plain td {
  padding: 3px 4px;
}
.where {
  display: block;
}
button {
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
</style>
