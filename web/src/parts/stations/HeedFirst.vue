<script setup lang="ts">
import { useI18n } from 'vue-i18n'

/** Cautions that are acknowledged where the hand is, before anything is done. */
defineProps<{ texts: string[]; heeded: boolean; disabled?: boolean }>()
const emit = defineEmits<{ heed: [heeded: boolean] }>()
const { t } = useI18n()
</script>

<template>
  <section class="caution">
    <h4>{{ t('heed.title') }}</h4>
    <ul>
      <li v-for="words in texts" :key="words">{{ words }}</li>
    </ul>
    <p class="small">{{ t('heed.local') }}</p>
    <label>
      <input
        type="checkbox"
        :checked="heeded"
        :disabled="disabled"
        @change="emit('heed', ($event.target as HTMLInputElement).checked)"
      />
      {{ t('heed.heeded') }}
    </label>
  </section>
</template>

<style scoped>
.caution {
  border-left: 3px solid var(--accent);
  padding: 2px 0 2px var(--space-3);
}
.caution h4 {
  margin: 0;
}
.caution ul {
  margin: 4px 0;
  padding-left: 18px;
}
.caution p {
  margin: 0 0 4px;
}
input {
  accent-color: var(--accent);
}
</style>
