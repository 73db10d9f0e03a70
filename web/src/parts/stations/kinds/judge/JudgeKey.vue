<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'
import { useReadings } from '@/parts/stations/readings'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** The verdicts that are right, and from which car each reading is. */
defineProps<{ parts: Schemas['JudgeKey']['parts'] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
</script>

<template>
  <KeyRow v-for="(part, k) in parts" :key="k" :reason="part.reason">
    <VerdictMark class="verdict" :kind="part.verdict" />
    <span>
      <b>{{ withUnit(part) }}</b>
      <span class="soft">
        {{ part.condition_label }}, {{ part.label }},
        {{ t(part.from_faulty_car ? 'stations.judge.faultyCar' : 'stations.judge.soundCar') }}</span
      >
    </span>
  </KeyRow>
</template>

<style scoped>
/* Values stand below each other, whatever the verdict. */
.verdict {
  flex: 0 0 116px;
}
</style>
