<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import ChoiceRows from '@/parts/stations/ChoiceRows.vue'
import type { BodyProps } from '@/parts/stations/kind'

/** Each statement, to be called true or not. */
const props = defineProps<BodyProps<'myth'>>()
const emit = defineEmits<{ change: [answer: Schemas['MythAnswer']] }>()
const { t } = useI18n()
const rows = computed(() => props.view.statements.map(({ id, text }) => ({ id, label: text })))
const choices = computed(() => ['true', 'false'].map((id) => ({ id, label: t(`stations.myth.${id}`) })))
function choose(row: string, choice: string) {
  emit('change', { ...props.answer, said: { ...props.answer.said, [row]: choice as 'true' | 'false' } })
}
</script>

<template>
  <ChoiceRows
    :rows="rows"
    :choices="choices"
    :given="answer.said ?? {}"
    :name="name"
    :disabled="disabled"
    @choose="choose"
  />
</template>
