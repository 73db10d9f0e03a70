<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'
import { VERDICTS } from '@/parts/verdict/kinds'

/** One of the four verdicts, by click or by arrow keys. */
defineProps<{ value: string | null | undefined; name: string; label: string; disabled?: boolean }>()
const emit = defineEmits<{ choose: [verdict: string] }>()
const { t } = useI18n()
</script>

<template>
  <fieldset class="choice" :disabled="disabled">
    <legend class="visually-hidden">{{ label }}</legend>
    <label
      v-for="kind in VERDICTS"
      :key="kind"
      class="option"
      :class="{ on: value === kind }"
      :title="t(`verdict.${kind}`)"
    >
      <input
        class="visually-hidden"
        type="radio"
        :name="name"
        :value="kind"
        :checked="value === kind"
        :aria-label="t(`verdict.${kind}`)"
        @change="emit('choose', kind)"
      />
      <VerdictMark :kind="kind" />
    </label>
  </fieldset>
</template>

<style scoped>
.choice {
  display: inline-flex;
  border: 1px solid var(--edge);
  margin: 0;
  padding: 0;
}
.option {
  position: relative;
  padding: 4px 10px;
  cursor: pointer;
  border-right: 1px solid var(--rule);
  border-bottom: 3px solid transparent;
  font-size: 13px;
}
.option:last-child {
  border-right: 0;
}
.option :deep(.verdict) {
  color: var(--text-soft);
  font-weight: 400;
}
.option.on {
  background: var(--surface-strong);
  border-bottom-color: var(--text);
}
.option.on :deep(.verdict) {
  font-weight: 600;
}
.option.on :deep(.verdict.good) {
  color: var(--good);
}
.option.on :deep(.verdict.suspect) {
  color: var(--suspect);
}
.option.on :deep(.verdict.faulty) {
  color: var(--faulty);
}
.option.on :deep(.verdict.not_decidable) {
  color: var(--text);
}
.option:focus-within {
  outline: 2px solid var(--accent);
  outline-offset: 1px;
}
</style>
