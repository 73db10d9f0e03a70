<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Station } from '@/parts/stations/kind'

/** What is proposed, station by station; each can be left out before the lesson is made. */
const props = defineProps<{ stations: Station[]; title: string; reasons: string[] }>()
const dropped = defineModel<string[]>('dropped', { required: true })
const { t } = useI18n()
const kept = computed(() => props.stations.filter((station) => !dropped.value.includes(station.id)))
const minutes = computed(() => kept.value.reduce((sum, station) => sum + (station.minutes ?? 0), 0))

function toggle(id: string) {
  if (dropped.value.includes(id)) dropped.value = dropped.value.filter((entry) => entry !== id)
  else if (kept.value.length > 1) dropped.value = [...dropped.value, id]
}
</script>

<template>
  <div data-testid="proposed">
    <h2>{{ title }}</h2>
    <p v-for="reason in reasons" :key="reason" class="small">{{ reason }}</p>
    <ol>
      <li v-for="station in stations" :key="station.id" :class="{ out: dropped.includes(station.id) }">
        <label>
          <input type="checkbox" :checked="!dropped.includes(station.id)" @change="toggle(station.id)" />
          <span>
            <span class="small soft">{{ t(`stations.${station.kind}.name`) }}</span>
            {{ station.title }}
          </span>
          <span class="small soft">{{ t('editor.min', { n: station.minutes }) }}</span>
        </label>
      </li>
    </ol>
    <p class="small soft total">{{ t('plan.total', { n: kept.length, minutes }, kept.length) }}</p>
  </div>
</template>

<style scoped>
h2 {
  margin-bottom: var(--space-1);
}
p {
  margin: 0 0 var(--space-1);
}
ol {
  list-style: none;
  margin: var(--space-2) 0 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
}
li.out {
  opacity: 0.55;
  text-decoration: line-through;
}
label {
  display: flex;
  gap: 9px;
  align-items: baseline;
  padding: 5px 2px;
  cursor: pointer;
}
label > span:nth-of-type(1) {
  display: flex;
  flex: 1;
  gap: 4px;
  align-items: baseline;
}
label .soft:first-child {
  flex: 0 0 76px;
}
input {
  accent-color: var(--accent);
}
.total {
  border-top: 1px solid var(--text);
  padding-top: 4px;
}
</style>
