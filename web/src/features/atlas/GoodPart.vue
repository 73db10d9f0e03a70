<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { hasBench, units } from '@/api/session'
import { shown, unitWithReference } from '@/format/units'
import TermText from '@/parts/terms/TermText.vue'

/** What healthy engines show of a device: values down, conditions across. */
const props = defineProps<{ good: Schemas['GoodOut'][]; rig: string }>()
const { t } = useI18n()
const { channels, quantities, conditions } = useCatalogue()
const across = computed(() => [...new Set(props.good.map((line) => line.condition))])
const rows = computed(() =>
  [...new Set(props.good.map((line) => line.channel))].map((id) => {
    const lines = props.good.filter((line) => line.channel === id)
    const channel = channels.value.get(id)
    const quantity = quantities.value.get(lines[0]?.quantity ?? '')
    const digits = channel?.digits ?? 2
    const text = (value: number) => shown(value, quantity, digits, units.value).text
    return {
      id,
      label: channel?.label ?? id,
      layer: channel?.layer ?? 'scan',
      family: channel?.family ?? 'position',
      unit: unitWithReference(quantity, units.value),
      cells: across.value.map((condition) => {
        const line = lines.find((entry) => entry.condition === condition)
        if (!line) return ''
        const [low, high] = [text(line.low), text(line.high)]
        return low === high ? low : t('atlas.range', { low, high })
      }),
    }
  }),
)
</script>

<template>
  <p v-if="!hasBench" class="soft">{{ t('atlas.closed') }}</p>
  <p v-else-if="!good.length" class="soft">{{ t('atlas.noSheet') }}</p>
  <template v-else>
    <p class="small soft">
      {{ t('atlas.goodLead') }}
      <RouterLink :to="{ name: 'values', query: { rig } }">{{ t('atlas.valueSheet') }}</RouterLink>.
    </p>
    <div class="scrolls" tabindex="0" role="region" :aria-label="t('atlas.good')">
      <table class="plain">
        <thead>
          <tr>
            <th></th>
            <th v-for="condition in across" :key="condition" class="number">
              {{ conditions.get(condition)?.label ?? condition }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id" :style="{ '--family': `var(--${row.family})` }">
            <th scope="row">
              <TermText :text="row.label" />
              <span class="soft small"
                >{{ row.unit }}<template v-if="row.layer !== 'scan'"> · {{ t(`layer.${row.layer}`) }}</template></span
              >
            </th>
            <td v-for="(cell, k) in row.cells" :key="k" class="number">{{ cell || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </template>
</template>

<style scoped>
th[scope='row'] {
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid var(--family);
  font-size: 14px;
  color: var(--text);
  font-stretch: 100%;
  white-space: nowrap;
}
th[scope='row'] .small {
  display: block;
}
thead th {
  white-space: normal;
  vertical-align: bottom;
}
</style>
