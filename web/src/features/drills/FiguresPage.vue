<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { day } from '@/format/dates'

/** What the trials of a drill say: hits, false alarms, d' and bias, the size that is found in four of five, and how good confidence is. */
const props = defineProps<{ id: string }>()
const { t, locale } = useI18n()
const figures = useQuery({
  queryKey: ['drill figures', computed(() => props.id)],
  queryFn: () =>
    unwrap(client.GET('/api/drills/{drill_id}/figures', { params: { path: { drill_id: Number(props.id) } } })),
  staleTime: 0,
})
const short = (value: number | null | undefined) => (value == null ? '–' : value.toFixed(1).replace('-', '−'))
function bias(of: Schemas['FiguresOut']): string {
  if (of.bias == null) return '–'
  return t(of.bias > 0.3 ? 'drills.lenient' : of.bias < -0.3 ? 'drills.strict' : 'drills.even')
}
</script>

<template>
  <div class="page">
    <p class="soft line">
      <RouterLink :to="{ name: 'drills' }">{{ t('drills.title') }}</RouterLink>
    </p>
    <h1>{{ t('drills.figures') }}</h1>
    <p v-if="figures.error.value" role="alert">{{ sentence(figures.error.value) }}</p>
    <p v-else-if="figures.data.value?.every((row) => !row.faulty && !row.sound && !row.pairs)" class="soft">
      {{ t('drills.noFigures') }}
    </p>
    <section v-for="row in figures.data.value ?? []" :key="row.learner">
      <h2>{{ row.learner }}</h2>
      <dl class="main">
        <div>
          <dt>{{ t('drills.found') }}</dt>
          <dd>{{ t('drills.of', { n: row.hits, all: row.faulty }) }}</dd>
        </div>
        <div>
          <dt>{{ t('drills.falseAlarms') }}</dt>
          <dd>{{ t('drills.of', { n: row.false_alarms, all: row.sound }) }}</dd>
        </div>
        <div>
          <dt>{{ t('drills.pairs') }}</dt>
          <dd>{{ t('drills.of', { n: row.pairs_right, all: row.pairs }) }}</dd>
        </div>
        <div>
          <dt>d′</dt>
          <dd>{{ short(row.d_prime) }}</dd>
        </div>
        <div>
          <dt>{{ t('drills.bias') }}</dt>
          <dd>{{ bias(row) }}</dd>
        </div>
        <div>
          <dt>{{ t('drills.inVain') }}</dt>
          <dd>{{ t('editor.min', { n: Math.round(row.minutes_in_vain) }) }}</dd>
        </div>
      </dl>
      <table class="plain stacks">
        <thead>
          <tr>
            <th>{{ t('drills.kind') }}</th>
            <th class="number">{{ t('drills.found') }}</th>
            <th>{{ t('drills.threshold') }}</th>
            <th>{{ t('drills.due') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="kind in row.kinds" :key="kind.kind">
            <td class="what">{{ kind.label }}</td>
            <td class="number" :data-label="t('drills.found')">
              {{ t('drills.of', { n: kind.hits, all: kind.faulty }) }}
            </td>
            <td :data-label="t('drills.threshold')">
              <template v-if="kind.threshold">{{ kind.threshold }}</template>
              <span v-else class="soft">{{ t('drills.notYet') }}</span>
            </td>
            <td class="soft" :data-label="t('drills.due')">{{ kind.due ? day(kind.due, locale) : '–' }}</td>
          </tr>
        </tbody>
      </table>
      <p class="small">
        {{ t('drills.sureness') }}
        <span v-for="level in row.sureness.filter((entry) => entry.trials)" :key="level.confidence" class="level">
          {{ t(`drills.sure.${level.confidence}`) }}: {{ t('drills.of', { n: level.right, all: level.trials }) }}
        </span>
      </p>
    </section>
    <p class="small soft">{{ t('drills.how') }}</p>
  </div>
</template>

<style scoped>
.main {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-5);
  margin: var(--space-2) 0 var(--space-3);
}
dt {
  color: var(--text-soft);
  font-size: 12.5px;
}
dd {
  margin: 0;
  font-size: var(--text-lead);
  font-weight: 600;
}
.level {
  margin-left: var(--space-3);
  font-weight: 600;
}
</style>
