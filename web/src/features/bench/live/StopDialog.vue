<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { answersOf, type Caution } from '@/features/bench/live/cautions'

/** A stop before an act that can hurt somebody: it goes on once the measure is named. */
const props = defineProps<{ caution?: Caution }>()
const emit = defineEmits<{ go: [on: boolean] }>()
const { t } = useI18n()

const chosen = ref('')
watch(
  () => props.caution,
  () => (chosen.value = ''),
)
const answers = computed(() => (props.caution ? answersOf(props.caution) : []))
const right = computed(() => chosen.value === props.caution?.measures?.right)
</script>

<template>
  <ElDialog
    :model-value="caution !== undefined"
    :title="t('live.stop.title')"
    width="460"
    align-center
    @close="caution && emit('go', false)"
  >
    <p>{{ caution?.words }}</p>
    <fieldset>
      <legend class="label">{{ t('live.stop.which') }}</legend>
      <label v-for="answer in answers" :key="answer">
        <input v-model="chosen" type="radio" name="measure" :value="answer" /><span>{{ answer }}</span>
      </label>
    </fieldset>
    <p v-if="chosen && !right" class="problem small" role="alert">{{ t('live.stop.notEnough') }}</p>
    <p class="small soft">{{ t('live.stop.defers') }}</p>
    <template #footer>
      <ElButton @click="emit('go', false)">{{ t('app.cancel') }}</ElButton>
      <ElButton type="primary" :disabled="!right" @click="emit('go', true)">{{ t('live.stop.go') }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: var(--space-3) 0;
}
fieldset label {
  display: flex;
  align-items: baseline;
  gap: var(--space-2);
  padding: 5px 0;
}
fieldset input {
  accent-color: var(--accent);
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
</style>
