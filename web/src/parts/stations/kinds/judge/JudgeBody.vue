<script setup lang="ts">
import type { BodyProps } from '@/parts/stations/kind'
import type { Schemas } from '@/api/client'
import ReadingTable from '@/parts/stations/ReadingTable.vue'
import VerdictChoice from '@/parts/verdict/VerdictChoice.vue'

type Answer = Schemas['JudgeAnswer']

/** The readings, each with a choice of four verdicts. */
const props = defineProps<BodyProps<'judge'>>()
const emit = defineEmits<{ change: [answer: Answer] }>()

function judge(k: number, verdict: string) {
  const verdicts = props.view.readings.map((_, j) => (j === k ? verdict : (props.answer.verdicts?.[j] ?? null)))
  emit('change', { ...props.answer, verdicts })
}
</script>

<template>
  <ReadingTable v-slot="{ k, reading }" :readings="view.readings" verdicts>
    <VerdictChoice
      :name="`${name}-verdict-${k}`"
      :label="`${reading.condition_label}: ${reading.label}`"
      :value="answer.verdicts?.[k]"
      :disabled="disabled"
      @choose="(verdict) => judge(k, verdict)"
    />
  </ReadingTable>
</template>
