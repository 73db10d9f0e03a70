<script setup lang="ts">
import { computed } from 'vue'
import type { Lanes } from '@/parts/lanes/geometry'
import ProseText from '@/parts/prose/ProseText.vue'
import type { Answer, View } from '@/parts/stations/kind'
import { kindOf } from '@/parts/stations/kinds'

/** A station as a learner sees it: its text, then what its kind shows and asks. */
const props = defineProps<{
  station: View
  answer: Answer
  lanes?: Lanes | null
  disabled?: boolean
  rig: string
  name?: string
}>()
const emit = defineEmits<{ change: [answer: Answer] }>()
const kind = computed(() => kindOf(props.station))
/** An answer of the station before stands here for one moment only. */
const fits = computed(() => props.answer.kind === props.station.kind)
</script>

<template>
  <div class="body">
    <p v-if="station.problem" class="problem" role="alert">{{ station.problem }}</p>
    <ProseText v-if="station.text && !kind.placesText" class="broad" :text="station.text" />
    <component
      :is="kind.body"
      v-if="kind.body && fits"
      :view="station"
      :answer="answer"
      :lanes="lanes"
      :name="name ?? 'station'"
      :rig="station.rig || rig"
      :disabled="disabled"
      @change="(next: Answer) => emit('change', next)"
    />
  </div>
</template>

<style scoped>
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.body {
  container-type: inline-size;
  display: flex;
  flex-direction: column;
  gap: var(--space-3);
  min-width: 0;
}
.body > .broad {
  max-width: 100ch;
}
</style>
