<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { inOne, useTold } from '@/api/told'

/** Faults across, states down; each state with its values. */
const props = defineProps<{ columns: Schemas['ColumnOut'][]; conditions: string[]; rig: string }>()
const { t } = useI18n()
const { channels, conditions: known } = useCatalogue()
const { told } = useTold()
const rows = computed(() =>
  props.conditions.flatMap((condition) => {
    const ids = [
      ...new Set(props.columns.flatMap((c) => c.cells.filter((e) => e.condition === condition).map((e) => e.channel))),
    ]
    return ids.map((id, k) => ({
      condition,
      first: k === 0 ? ids.length : 0,
      id,
      label: channels.value.get(id)?.label ?? id,
      cells: props.columns.map((column) => {
        const cell = column.cells.find((entry) => entry.condition === condition && entry.channel === id)
        const channel = channels.value.get(id)
        const digits = channel?.digits ?? 2
        const text = inOne(told(cell?.value, cell?.quantity, digits))
        return { text: cell?.value === null || !cell ? '–' : text, outside: cell?.outside ?? false }
      }),
    }))
  }),
)
</script>

<template>
  <div class="scrolls" tabindex="0" role="region" :aria-label="t('signatures.tabs.steps')">
    <table class="plain">
      <thead>
        <tr>
          <th>{{ t('signatures.condition') }}</th>
          <th>{{ t('signatures.channel') }}</th>
          <th v-for="column in columns" :key="column.label" class="number">
            <RouterLink
              v-if="column.fault"
              :to="{ query: { rig, tab: 'fault', fault: JSON.stringify(column.fault) } }"
              :title="column.words"
              >{{ column.label }}</RouterLink
            >
            <template v-else>{{ column.label }}</template>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="`${row.condition}${row.id}`" :class="{ first: row.first }">
          <th v-if="row.first" scope="rowgroup" :rowspan="row.first">{{ known.get(row.condition)?.label }}</th>
          <td>{{ row.label }}</td>
          <td v-for="(cell, k) in row.cells" :key="k" class="number" :class="{ outside: cell.outside }">
            {{ cell.text }}<span v-if="cell.outside" class="visually-hidden">{{ t('signatures.outside') }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="small soft"><span class="outside">00</span> {{ t('signatures.outside') }}</p>
</template>

<style scoped>
table.plain {
  width: auto;
}
.plain td,
.plain tbody th {
  padding: 3px 10px;
}
tbody th {
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.first td,
.first th {
  border-top: 1px solid var(--text-faint);
}
.outside {
  font-weight: 600;
  text-decoration: underline;
  text-decoration-color: var(--faulty);
  text-decoration-thickness: 2px;
  text-underline-offset: 3px;
}
</style>
