<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'

/** A field for words. */
defineProps<BodyProps<'reflect'>>()
const emit = defineEmits<{ change: [answer: Schemas['ReflectAnswer']] }>()
const { t } = useI18n()
</script>

<template>
  <div>
    <label class="label" :for="`${name}-words`">{{ t('stations.reflect.yours') }}</label>
    <textarea
      :id="`${name}-words`"
      rows="6"
      maxlength="4000"
      :value="answer.text ?? ''"
      :disabled="disabled"
      @input="emit('change', { ...answer, text: ($event.target as HTMLTextAreaElement).value })"
    ></textarea>
    <p class="small soft">{{ t('stations.reflect.forTrainer') }}</p>
  </div>
</template>

<style scoped>
textarea {
  display: block;
  width: min(100%, 720px);
  border: 1px solid var(--text-soft);
  background: var(--field);
  color: var(--text);
  padding: 6px 9px;
  font-size: 15px;
  line-height: 1.45;
}
</style>
