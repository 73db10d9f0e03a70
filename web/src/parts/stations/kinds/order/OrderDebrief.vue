<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import OrderTable from './OrderTable.vue'

/** The learner's order beside the one that costs least. */
defineProps<{ parts: Schemas['MarkedOrder']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <div v-for="(part, k) in parts" :key="k" class="two">
    <section>
      <h4>
        {{ part.cost == null ? t('stations.order.mine') : t('stations.order.given', { n: Math.round(part.cost) }) }}
      </h4>
      <OrderTable :part="part" :order="part.given ?? []" />
    </section>
    <section>
      <h4>{{ t('stations.order.best', { n: Math.round(part.least) }) }}</h4>
      <OrderTable :part="part" :order="part.best" />
    </section>
    <p class="small soft">{{ t('stations.order.how') }}</p>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 0 var(--space-4);
}
h4 {
  margin: 0;
  border-bottom: 1px solid var(--text);
}
p {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
