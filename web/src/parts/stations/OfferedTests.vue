<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, unwrap } from '@/api/client'
import PickOne from '@/parts/choice/PickOne.vue'

/** The tests of an engine that a station offers, so many at least and at most. */
const props = defineProps<{ rig?: string; chosen: string[]; least: number; most: number }>()
const emit = defineEmits<{ change: [tests: string[]] }>()
const { t } = useI18n()
const tests = useQuery({
  queryKey: ['tests', computed(() => props.rig)],
  queryFn: () => unwrap(client.GET('/api/rigs/{rig}/tests', { params: { path: { rig: props.rig ?? 'R1' } } })),
  enabled: computed(() => props.rig !== undefined),
  staleTime: Infinity,
})
const labels = computed(() => new Map((tests.data.value ?? []).map((test) => [test.id, test.label])))
const groups = computed(() => [
  {
    label: t('editor.tests'),
    entries: (tests.data.value ?? [])
      .filter((test) => !props.chosen.includes(test.id))
      .map((test) => ({ value: test.id, label: test.label })),
  },
])
function remove(id: string) {
  if (props.chosen.length > props.least)
    emit(
      'change',
      props.chosen.filter((test) => test !== id),
    )
}
</script>

<template>
  <span class="label">{{ t('editor.tests') }}</span>
  <p v-for="test in chosen" :key="test" class="test small">
    {{ labels.get(test) ?? test }}
    <button type="button" :aria-label="t('editor.removeRow')" :disabled="chosen.length <= least" @click="remove(test)">
      ×
    </button>
  </p>
  <PickOne
    v-if="chosen.length < most"
    value=""
    :groups="groups"
    :label="t('editor.addTest')"
    @choose="(test) => emit('change', [...chosen, test])"
  />
</template>

<style scoped>
.test {
  display: flex;
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 4px 0;
}
.test button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
</style>
