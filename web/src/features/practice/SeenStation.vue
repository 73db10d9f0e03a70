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
.seen {
  border-left: 1px solid var(--rule);
  margin-top: var(--space-2);
  padding-left: var(--space-4);
}
</style>
