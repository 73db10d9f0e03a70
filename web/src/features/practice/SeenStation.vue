<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'
import { answerTo } from '@/parts/stations/kinds'
import StationBody from '@/parts/stations/StationBody.vue'

/** A station exactly as its learner saw it, with the answer that counts: for whoever looks again, and for an appeal. */
const props = defineProps<{ attempt: number; index: number; rig: string }>()
const { t } = useI18n()
const open = ref(false)
const path = computed(() => ({ attempt_id: props.attempt, index: props.index }))
const seen = useQuery({
  queryKey: ['seen', path],
  queryFn: () => unwrap(client.GET('/api/attempts/{attempt_id}/seen/{index}', { params: { path: path.value } })),
  enabled: open,
  staleTime: Infinity,
})
const lanes = useQuery({
  queryKey: ['seen-lanes', path],
  queryFn: () => unwrap(client.GET('/api/attempts/{attempt_id}/seen/{index}/lanes', { params: { path: path.value } })),
  enabled: computed(() => open.value && seen.data.value?.station.has_lanes === true),
  staleTime: Infinity,
})
/** Minutes and seconds since the engine was put up. */
const clock = (seconds: number) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`
const answer = computed(() => seen.data.value && answerTo(seen.data.value.station, seen.data.value.answer))
</script>

<template>
  <div>
    <button type="button" class="toggle" :aria-expanded="open" @click="open = !open">
      {{ t(open ? 'debrief.hideSeen' : 'debrief.showSeen') }}
    </button>
    <div v-if="open" class="seen" data-testid="seen">
      <p v-if="seen.error.value" class="soft" role="alert">{{ sentence(seen.error.value) }}</p>
      <StationBody
        v-if="seen.data.value && answer"
        :station="seen.data.value.station"
        :lanes="lanes.data.value ?? null"
        :answer="answer"
        :rig="rig"
        :name="`seen-${index}`"
        disabled
      />
      <template v-if="seen.data.value?.done.length">
        <h3 class="label">{{ t('debrief.done') }}</h3>
        <ol class="done">
          <li v-for="(act, k) in seen.data.value.done" :key="k">
            <span class="at">{{ clock(act.seconds) }}</span> {{ act.words }}
          </li>
        </ol>
      </template>
    </div>
  </div>
</template>

<style scoped>
.toggle {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 0;
  font-size: var(--text-small);
}
.done {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 320px;
  overflow-y: auto;
}
.at {
  display: inline-block;
  width: 48px;
  font-variant-numeric: tabular-nums;
  color: var(--text-soft);
}
.seen {
  border-left: 1px solid var(--rule);
  margin-top: var(--space-2);
  padding-left: var(--space-4);
}
</style>
