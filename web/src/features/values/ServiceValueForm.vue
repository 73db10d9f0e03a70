<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, newChangeId, sentence, unwrap } from '@/api/client'

/** A service value of the school: from, to, and where it comes from. What was typed stays until it is taken. */
const props = defineProps<{ rig: string; condition: string; channel: string; unit: string }>()
const emit = defineEmits<{ kept: [fresh: unknown]; close: [] }>()
const { t } = useI18n()

const low = ref('')
const high = ref('')
const source = ref('')
const vehicle = ref('')
/** A number alone is meant in the unit that stands beside it. */
const withUnit = (text: string) =>
  /^[-+−\d.,\s]+$/.test(text) ? `${text} ${props.unit.split(' ')[0] ?? ''}`.trim() : text
const keep = useMutation({
  mutationFn: () =>
    unwrap(
      client.PUT('/api/rigs/{rig}/service-values', {
        params: { path: { rig: props.rig } },
        headers: { 'X-Change-Id': newChangeId() },
        body: {
          condition: props.condition,
          channel: props.channel,
          low: withUnit(low.value),
          high: withUnit(high.value),
          source: source.value.trim(),
          vehicle: vehicle.value.trim(),
        },
      }),
    ),
  onSuccess: (fresh) => emit('kept', fresh),
})
</script>

<template>
  <form class="own" @submit.prevent="keep.mutate()">
    <label>{{ t('values.from') }} <input v-model="low" required size="8" /></label>
    <label>{{ t('values.to') }} <input v-model="high" required size="8" /></label>
    <span class="soft">{{ unit }}</span>
    <label class="wide"
      >{{ t('values.source') }} <input v-model="source" required minlength="3" maxlength="200"
    /></label>
    <label>{{ t('values.vehicle') }} <input v-model="vehicle" maxlength="80" size="16" /></label>
    <button type="submit" class="tool" :disabled="keep.isPending.value">{{ t('values.keep') }}</button>
    <button type="button" class="tool" @click="emit('close')">{{ t('app.cancel') }}</button>
    <p class="counts small soft">{{ t('values.ownCounts') }}</p>
    <p v-if="keep.error.value" class="problem" role="alert">{{ sentence(keep.error.value) }}</p>
  </form>
</template>

<style scoped>
.own {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px var(--space-2);
}
.wide {
  flex: 1 1 260px;
}
.wide input {
  width: calc(100% - 60px);
}
.counts {
  margin: 0;
}
.counts,
.problem {
  flex-basis: 100%;
}
</style>
