<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { hasBench, makesLessons } from '@/api/session'
import { inOne, useTold } from '@/api/told'
import ExplorerPanel from '@/parts/explorer/ExplorerPanel.vue'
import TermText from '@/parts/terms/TermText.vue'

/** A card on which the schools of the trade differ: what they say, the physics, and the switch that changes the outcome. */
const props = defineProps<{ card: Schemas['SchoolCardOut'] }>()
const { t } = useI18n()
const { channels } = useCatalogue()
const { told } = useTold()
const open = ref(false)
const option = ref(0)
const runs = useQuery({
  queryKey: ['school', computed(() => props.card.id)],
  queryFn: () => unwrap(client.GET('/api/atlas/schools/{card}', { params: { path: { card: props.card.id } } })),
  enabled: computed(() => open.value && props.card.runs),
  staleTime: Infinity,
  retry: false,
})
const options = computed(() => [...new Set((runs.data.value?.rows ?? []).map((row) => row.option))])
const rows = computed(() =>
  [...new Set((runs.data.value?.rows ?? []).map((row) => row.channel))].map((id) => {
    const channel = channels.value.get(id)
    const isCount = runs.data.value?.statistic === 'freq'
    const quantity = isCount ? 'frequency' : channel?.quantity
    const digits = isCount ? 1 : (channel?.digits ?? 2)
    return {
      id,
      label: channel?.label ?? id,
      cells: options.value.map((name) => {
        const row = runs.data.value?.rows.find((entry) => entry.channel === id && entry.option === name)
        const text = inOne(told(row?.value, quantity, digits))
        return { text: row?.value === null ? '–' : text, outside: row?.outside ?? false }
      }),
    }
  }),
)
</script>

<template>
  <article>
    <h3>{{ card.title }}</h3>
    <ul>
      <li v-for="school in card.schools" :key="school">{{ school }}</li>
    </ul>
    <p>
      <span class="label">{{ t('atlas.physics') }}</span> <TermText :text="card.physics" />
    </p>
    <p v-if="card.setting" class="small">
      <RouterLink v-if="makesLessons" :to="{ name: 'school-rules' }">{{ t('atlas.schoolSetting') }}</RouterLink>
      <template v-else>{{ t('atlas.schoolSetting') }}</template>
    </p>
    <RouterLink v-else-if="card.working" class="small" :to="{ name: 'workings', query: { of: card.working } }">{{
      t('atlas.openWorking')
    }}</RouterLink>
    <RouterLink v-else-if="card.bench && hasBench" class="small" :to="{ name: 'bench' }">{{
      t('atlas.openBench')
    }}</RouterLink>
    <template v-else-if="card.runs || card.drawing">
      <button type="button" class="tool" :aria-expanded="open" @click="open = !open">{{ t('atlas.changes') }}</button>
      <div v-if="open && card.runs" class="switch">
        <p v-if="runs.error.value" role="alert">{{ sentence(runs.error.value) }}</p>
        <p v-else-if="!rows.length" class="soft" role="status">{{ t('atlas.loading') }}</p>
        <div v-else class="scrolls" tabindex="0" role="region" :aria-label="card.title">
          <table class="plain">
            <thead>
              <tr>
                <th>{{ t(`atlas.statistic.${runs.data.value?.statistic}`) }}</th>
                <th v-for="name in options" :key="name" class="number">{{ name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in rows" :key="row.id">
                <td>{{ row.label }}</td>
                <td v-for="(cell, k) in row.cells" :key="k" class="number" :class="{ outside: cell.outside }">
                  {{ cell.text }}
                  <span v-if="cell.outside" class="visually-hidden">{{ t('atlas.outside') }}</span>
                </td>
              </tr>
            </tbody>
          </table>
          <p class="small soft"><span class="outside">00</span> {{ t('atlas.outside') }}</p>
        </div>
      </div>
      <div v-if="open && card.drawing" class="switch">
        <div class="buttons" role="group" :aria-label="card.title">
          <button
            v-for="(entry, k) in card.options"
            :key="entry.label"
            type="button"
            :aria-pressed="k === option"
            @click="option = k"
          >
            {{ entry.label }}
          </button>
        </div>
        <ExplorerPanel :drawing="card.drawing" :start="card.options[option]?.hands" bare />
      </div>
    </template>
  </article>
</template>

<style scoped>
article {
  border-left: 3px solid var(--rule);
  padding-left: var(--space-3);
  margin: 0 0 var(--space-4);
  scroll-margin-top: 44px;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
  color: var(--text-soft);
}
p {
  max-width: 90ch;
  margin-bottom: 4px;
}
.switch {
  margin-top: var(--space-2);
}
.scrolls table {
  width: auto;
}
.outside {
  font-weight: 600;
  text-decoration: underline;
  text-decoration-color: var(--faulty);
  text-decoration-thickness: 2px;
  text-underline-offset: 3px;
}
</style>
