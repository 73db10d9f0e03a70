<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'

/** The tests in an order, each with what it tells. */
const props = defineProps<{ part: Schemas['OrderPart']; order: string[] }>()
const { t } = useI18n()
const rows = computed(() => props.order.flatMap((id) => props.part.tests.filter((test) => test.id === id)))
</script>

<template>
  <ol>
    <li v-for="test in rows" :key="test.id">
      <b>{{ test.label }}</b>
      <span class="soft small">{{ t('stations.order.minutes', { n: Math.round(test.minutes) }) }}</span>
      <span class="small tells">{{ test.tells }}</span>
    </li>
  </ol>
</template>

<style scoped>
ol {
  margin: 4px 0 var(--space-2);
  padding-left: 20px;
}
li {
  padding: 2px 0;
}
li > .soft {
  margin-left: 8px;
}
.tells {
  display: block;
}
</style>
