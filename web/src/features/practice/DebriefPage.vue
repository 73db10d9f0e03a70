<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { day } from '@/format/dates'
import { client, sentence, unwrap } from '@/api/client'
import KeyQuestion from '@/features/practice/KeyQuestion.vue'
import MarkedStation from '@/features/practice/MarkedStation.vue'
import SeenStation from '@/features/practice/SeenStation.vue'

/** The debrief: what was wrong with the car, and per station what was right and why. Learner and trainer see the same page. */
const props = defineProps<{ id: string }>()
const { t, locale } = useI18n()
const debrief = useQuery({
  queryKey: ['debrief', computed(() => props.id)],
  queryFn: () =>
    unwrap(client.GET('/api/attempts/{attempt_id}/debrief', { params: { path: { attempt_id: Number(props.id) } } })),
})
const data = computed(() => debrief.data.value)
/** Stations that only explain or show have nothing to tell here. */
const told = computed(() => data.value?.stations.filter((s) => !s.left_out && (s.points !== null || !s.answered)) ?? [])
/** Stations that others get, by their results. */
const others = computed(() => data.value?.stations.filter((s) => s.left_out).map((s) => s.title) ?? [])
</script>

<template>
  <div class="page">
    <p v-if="debrief.error.value" role="alert">
      {{ sentence(debrief.error.value) }} <RouterLink :to="{ name: 'home' }">{{ t('app.toHome') }}</RouterLink>
    </p>
    <p v-else-if="!data" class="soft">{{ t('app.loading') }}</p>
    <template v-else>
      <div class="head">
        <div>
          <p class="soft line">
            {{ t('debrief.title') }}, {{ t('debrief.learner', { name: data.learner, version: data.version })
            }}<template v-if="data.finished_at"
              >, {{ t('home.finishedOn', { date: day(data.finished_at, locale) }) }}</template
            >
          </p>
          <h1>{{ data.title }}</h1>
        </div>
        <p v-if="data.score !== null" class="score">
          <b>{{ Math.round(data.score) }}<span> %</span></b> {{ t('debrief.score') }}
        </p>
      </div>
      <dl class="cause">
        <dt class="label">{{ t('debrief.cause') }}</dt>
        <dd>
          <b>{{ data.cause }}</b>
        </dd>
        <template v-if="data.proof.length">
          <dt class="label">{{ t('debrief.proof') }}</dt>
          <dd>{{ data.proof.join(' ') }}</dd>
        </template>
        <template v-if="data.repair.length">
          <dt class="label">{{ t('debrief.repair') }}</dt>
          <dd>{{ data.repair.join(' ') }}</dd>
        </template>
      </dl>
      <MarkedStation v-for="station in told" :key="station.index" :station="station">
        <KeyQuestion
          v-if="station.points !== null && data.finished_at"
          :attempt="Number(id)"
          :station="station.index"
          :dispute="data.disputes.find((entry) => entry.station === station.index)"
        />
        <SeenStation v-if="station.answered" :attempt="Number(id)" :index="station.index" :rig="data.rig" />
      </MarkedStation>
      <p v-if="others.length" class="small soft">{{ t('debrief.otherWay', { list: others.join(', ') }) }}</p>
      <p class="small soft rules">{{ data.rules }} {{ t('debrief.core', { version: data.core_version }) }}</p>
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
}
.line {
  margin: 0;
}
.score {
  margin: 0;
  white-space: nowrap;
}
.score b {
  font-size: 34px;
  line-height: 1;
}
.score span {
  font-size: 18px;
}
.cause {
  display: grid;
  grid-template-columns: 120px 1fr;
  gap: 4px var(--space-3);
  align-items: baseline;
  border-top: 2.5px solid var(--accent);
  padding-top: var(--space-3);
  margin: var(--space-2) 0 0;
}
.cause dd {
  margin: 0;
  max-width: 80ch;
}
.rules {
  margin-top: var(--space-5);
  border-top: 1px solid var(--rule);
  padding-top: var(--space-2);
}
</style>
