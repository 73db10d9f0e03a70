<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Marked } from '@/parts/stations/kind'
import { kindOf } from '@/parts/stations/kinds'
import OverruledNotes from '@/parts/stations/OverruledNotes.vue'

/** One station of the debrief: what was given, what is right, and why. */
const props = defineProps<{ station: Marked }>()
const { t } = useI18n()
const debrief = computed(() => kindOf(props.station).debrief)
</script>

<template>
  <section class="station">
    <header>
      <h2>{{ station.title }}</h2>
      <span class="label">{{ t(`stations.${station.kind}.name`) }}</span>
      <b v-if="station.points !== null" class="points">{{
        t('debrief.points', { n: Math.round(100 * station.points) })
      }}</b>
    </header>
    <p v-if="station.vehicle" class="vehicle">{{ t('debrief.vehicle', { what: station.vehicle }) }}</p>
    <p v-if="station.overruled" class="vehicle">{{ t('dispute.overruled', { what: station.overruled }) }}</p>
    <p v-if="!station.answered" class="soft">{{ t('debrief.notAnswered') }}</p>
    <template v-else-if="debrief">
      <component :is="debrief" :parts="station.parts" />
      <OverruledNotes :parts="station.parts" />
    </template>
    <slot></slot>
  </section>
</template>

<style scoped>
.station {
  margin-top: var(--space-5);
}
header {
  display: flex;
  align-items: baseline;
  gap: var(--space-3);
  border-bottom: 1px solid var(--text);
}
header h2 {
  margin: 0 0 2px;
}
.points {
  margin-left: auto;
  font-size: var(--text-lead);
}
.vehicle {
  margin: var(--space-1) 0 0;
}
.station :deep(.what) {
  width: 250px;
}
.station :deep(.why) {
  max-width: 60ch;
}
.station :deep(.off td:first-child) {
  box-shadow: inset 3px 0 0 var(--accent);
}
@media (max-width: 600px) {
  .station :deep(.what),
  .station :deep(.why) {
    width: auto;
  }
}
</style>
