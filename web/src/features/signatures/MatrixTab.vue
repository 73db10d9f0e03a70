<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { useRouter } from 'vue-router'
import { useCatalogue, type Rig } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'

/** The faults of a group against conditions; a cell names the displayed value that leaves its band farthest. */
const props = defineProps<{ rig: Rig }>()
const { t } = useI18n()
const router = useRouter()
const { faultKinds, channels, conditions } = useCatalogue()
const groups = computed(() => [
  ...new Set(
    Object.keys(props.rig.faults)
      .map((id) => faultKinds.value.get(id)?.group)
      .filter((group): group is string => group !== undefined),
  ),
])
const group = ref('air_path')
const query = useQuery({
  queryKey: ['matrix', computed(() => props.rig.id), group],
  queryFn: ({ signal }) =>
    unwrap(
      client.GET('/api/rigs/{rig}/matrix', {
        params: { path: { rig: props.rig.id }, query: { group: group.value } },
        signal,
      }),
    ),
  staleTime: Infinity,
  retry: false,
})
function cell(row: Schemas['MatrixRow'], condition: string) {
  const told = row.cells[condition]
  if (!told) return undefined
  const channel = channels.value.get(told.slice(0, -1))
  return { label: channel?.label ?? told.slice(0, -1), side: told.slice(-1), family: channel?.family ?? 'position' }
}
function open(row: Schemas['MatrixRow']) {
  router.push({ query: { rig: props.rig.id, tab: 'fault', fault: JSON.stringify(row.fault) } })
}
</script>

<template>
  <p class="small soft">{{ t('signatures.matrixLead') }}</p>
  <div class="label">
    {{ t('signatures.group') }}
    <ChooseOne
      :value="group"
      :entries="groups.map((entry) => ({ value: entry, label: t(`signatures.groups.${entry}`) }))"
      :label="t('signatures.group')"
      @choose="(next) => (group = next)"
    />
  </div>
  <p v-if="query.error.value" role="alert">{{ sentence(query.error.value) }}</p>
  <p v-else-if="!query.data.value" class="soft" role="status">{{ t('signatures.computing') }}</p>
  <div v-else class="scrolls" tabindex="0" role="region" :aria-label="t('signatures.tabs.matrix')">
    <table class="plain">
      <thead>
        <tr>
          <th>{{ t('signatures.cause') }}</th>
          <th v-for="condition in query.data.value.conditions" :key="condition" class="across">
            {{ conditions.get(condition)?.label ?? condition }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in query.data.value.rows" :key="row.candidate">
          <th scope="row">
            <button type="button" @click="open(row)">{{ row.words }}</button>
          </th>
          <td v-for="condition in query.data.value.conditions" :key="condition">
            <span
              v-if="cell(row, condition)"
              class="cell narrow"
              :style="{ '--family': `var(--${cell(row, condition)?.family})` }"
              >{{ cell(row, condition)?.label }} {{ cell(row, condition)?.side }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.label select,
.label .pick {
  width: 260px;
  margin-left: 6px;
}
.scrolls {
  margin-top: var(--space-3);
}
.across {
  vertical-align: bottom;
  line-height: 1.2;
  min-width: 74px;
}
tbody th {
  position: sticky;
  left: 0;
  background: var(--surface);
  border-bottom: 1px solid var(--rule);
  min-width: 190px;
}
tbody th button {
  border: 0;
  background: none;
  color: var(--text);
  text-align: left;
  padding: 0;
  cursor: pointer;
}
tbody th button:hover {
  text-decoration: underline;
}
td {
  font-size: 12px;
}
.cell {
  border-left: 3px solid var(--family);
  padding-left: 4px;
  display: block;
}
</style>
