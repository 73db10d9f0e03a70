<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { units } from '@/api/session'
import { rowsOf } from '@/features/signatures/rows'

/** What some faults show on an engine: displayed values first, then pins; what only the model knows on demand. */
const props = withDefaults(
  defineProps<{ rig: string; faults: Schemas['FaultSpec'][]; most?: number; full?: boolean }>(),
  { most: 12 },
)
const { t } = useI18n()
const { channels, quantities, conditions } = useCatalogue()
const query = useQuery({
  queryKey: ['signature', computed(() => props.rig), computed(() => JSON.stringify(props.faults))],
  queryFn: ({ signal }) =>
    unwrap(client.POST('/api/signatures', { body: { rig: props.rig, faults: props.faults }, signal })),
  enabled: computed(() => props.faults.length > 0),
  placeholderData: keepPreviousData,
  staleTime: Infinity,
  retry: false,
})
/** Conditions that are named behind the first. */
const OTHERS = 3
const truth = ref(false)
const all = ref<string[]>([])
const layers = computed(() =>
  (props.full && truth.value ? ['scan', 'pin', 'truth'] : ['scan', 'pin']).map((layer) => {
    const rows = rowsOf(query.data.value?.departures ?? [], layer, channels.value, quantities.value, units.value)
    return { layer, rows, shown: all.value.includes(layer) ? rows : rows.slice(0, layer === 'scan' ? props.most : 6) }
  }),
)
const notices = computed(() => {
  const found = query.data.value?.noticed ?? []
  return [...new Set(found.map((entry) => entry.label))].map((label) => ({
    label,
    states: found.filter((entry) => entry.label === label).map((entry) => entry.state_label),
  }))
})
function toggle(layer: string) {
  all.value = all.value.includes(layer) ? all.value.filter((entry) => entry !== layer) : [...all.value, layer]
}
</script>

<template>
  <p v-if="query.error.value" role="alert">{{ sentence(query.error.value) }}</p>
  <p v-else-if="!query.data.value" class="soft" role="status">{{ t('signatures.computing') }}</p>
  <div v-else :class="{ waiting: query.isFetching.value }">
    <dl class="facts">
      <dt>{{ t('signatures.noticed') }}</dt>
      <dd>
        <span v-for="entry in notices" :key="entry.label" class="notice"
          >{{ entry.label }} <span class="soft small">({{ entry.states.join(', ') }})</span></span
        >
        <template v-if="!notices.length">{{ t('signatures.nothingNoticed') }}</template>
      </dd>
      <dt>{{ t('signatures.codes') }}</dt>
      <dd>{{ query.data.value.codes.join(', ') || t('signatures.noCodes') }}</dd>
    </dl>
    <template v-for="entry in layers" :key="entry.layer">
      <h3>{{ t(`signatures.layer.${entry.layer}`) }}</h3>
      <p v-if="!entry.rows.length" class="soft">{{ t('signatures.none') }}</p>
      <template v-else>
        <table class="plain stacks">
          <thead>
            <tr>
              <th>{{ t('signatures.channel') }}</th>
              <th>{{ t('signatures.condition') }}</th>
              <th class="number">{{ t('signatures.shows') }}</th>
              <th class="number">{{ t('signatures.healthy') }}</th>
              <th></th>
              <th class="number">{{ t('signatures.away') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in entry.shown" :key="row.channel" :style="{ '--family': `var(--${row.family})` }">
              <td class="name" :data-label="t('signatures.channel')">
                {{ row.label }}
                <span v-if="row.stat !== 'mean'" class="soft small">{{ t(`editor.stats.${row.stat}`) }}</span>
              </td>
              <td :data-label="t('signatures.condition')">
                {{ conditions.get(row.condition)?.label ?? row.condition }}
                <span v-if="row.others.length" class="others small soft"
                  >{{ t('signatures.alsoIn') }}
                  <template v-for="(other, k) in row.others.slice(0, OTHERS)" :key="other.condition"
                    >{{ k ? ', ' : '' }}{{ conditions.get(other.condition)?.label ?? other.condition }}
                    {{ other.away }}&nbsp;σ</template
                  ><template v-if="row.others.length > OTHERS">{{
                    t('signatures.andMore', { n: row.others.length - OTHERS })
                  }}</template></span
                >
              </td>
              <td class="number" :data-label="t('signatures.shows')">
                <b>{{ row.value }}</b>
              </td>
              <td class="number" :data-label="t('signatures.healthy')">{{ row.band }}</td>
              <td class="soft">{{ row.unit }}</td>
              <td class="number" :data-label="t('signatures.away')">{{ row.away }}</td>
            </tr>
          </tbody>
        </table>
        <button
          v-if="entry.rows.length > entry.shown.length || all.includes(entry.layer)"
          type="button"
          class="more small"
          @click="toggle(entry.layer)"
        >
          {{ all.includes(entry.layer) ? t('signatures.fewer') : t('signatures.more', { n: entry.rows.length }) }}
        </button>
      </template>
    </template>
    <label v-if="full" class="small truth"
      ><input v-model="truth" type="checkbox" /> {{ t('signatures.showTruth') }}</label
    >
  </div>
</template>

<style scoped>
.waiting {
  opacity: 0.6;
}
.facts {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 2px var(--space-3);
  margin: 0 0 var(--space-3);
}
dt {
  color: var(--text-soft);
  font-size: var(--text-small);
  padding-top: 2px;
}
dd {
  margin: 0;
}
.notice {
  margin-right: var(--space-3);
}
h3 {
  margin: var(--space-3) 0 4px;
}
table.plain {
  width: auto;
  min-width: min(100%, 620px);
}
td,
th {
  padding-top: 3px;
  padding-bottom: 3px;
}
.name {
  border-left: 3px solid var(--family);
}
.others {
  display: block;
  max-width: 46ch;
}
.more {
  border: 0;
  background: none;
  color: var(--accent);
  padding: 4px 0;
  cursor: pointer;
}
.truth {
  display: block;
  margin-top: var(--space-3);
}
</style>
