<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import PickOne from '@/parts/choice/PickOne.vue'

/** An instant of one of the person's recordings as the inputs of a calculation. */
const props = defineProps<{ working: string }>()
const emit = defineEmits<{ fed: [fed: Schemas['RecordingFeedOut']] }>()
const { t } = useI18n()
const list = useQuery({ queryKey: ['recordings'], queryFn: () => unwrap(client.GET('/api/recordings')) })
const recording = ref('')
/** A number once one was typed: so the browser gives what stands in such a field. */
const at = ref<number | ''>('')
const groups = computed(() => [
  {
    label: t('workings.recording'),
    entries: (list.data.value ?? []).map((row) => ({ value: String(row.id), label: row.name })),
  },
])
const feed = useMutation({
  mutationFn: () =>
    unwrap(
      client.GET('/api/recordings/{recording_id}/feed/{working}', {
        params: {
          path: { recording_id: Number(recording.value), working: props.working },
          query: at.value === '' ? {} : { at: at.value },
        },
      }),
    ),
  onSuccess: (fed) => emit('fed', fed),
})
</script>

<template>
  <p v-if="list.data.value && !list.data.value.length" class="small soft">{{ t('workings.noRecording') }}</p>
  <template v-else>
    <PickOne
      :value="recording"
      :groups="groups"
      :label="t('workings.recording')"
      @choose="(next) => (recording = next)"
    />
    <label class="small"
      >{{ t('workings.at') }} <input v-model="at" type="number" min="0" step="0.1" class="second"
    /></label>
    <button type="button" class="tool" :disabled="!recording || feed.isPending.value" @click="feed.mutate()">
      {{ t('workings.fromRecording') }}
    </button>
    <p v-if="feed.error.value" class="problem small" role="alert">{{ sentence(feed.error.value) }}</p>
  </template>
</template>

<style scoped>
.second {
  width: 76px;
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  padding: 3px 6px;
}
</style>
