<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'

/** Which lanes, where to zoom, and whether the sound engine stands beside. */
defineProps<FormProps<'show'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Show']>] }>()
const { t } = useI18n()
const { channels, conditions: named } = useCatalogue()
</script>

<template>
  <span class="label">{{ t('stations.show.channels') }}</span>
  <ol class="lanes">
    <li v-for="(name, k) in station.channels" :key="name">
      <i :style="{ background: `var(--${channels.get(name)?.family})` }"></i>
      {{ channels.get(name)?.label ?? name
      }}<span class="soft">, {{ t(`layer.${channels.get(name)?.layer ?? 'scan'}`) }}</span>
      <button
        v-if="station.channels.length > 1"
        type="button"
        :aria-label="t('bench.removeLane', { label: channels.get(name)?.label ?? name })"
        @click="emit('change', { channels: station.channels.filter((_, j) => j !== k) })"
      >
        ×
      </button>
    </li>
  </ol>
  <ChannelSelect
    v-if="station.channels.length < 8"
    value=""
    :prompt="`+ ${t('bench.addLane')}`"
    :without="station.channels"
    :only="only"
    @choose="(name) => emit('change', { channels: [...station.channels, name] })"
  />
  <label class="label" for="focus">{{ t('stations.show.focus') }}</label>
  <select
    id="focus"
    :value="station.focus ?? ''"
    @change="emit('change', { focus: ($event.target as HTMLSelectElement).value || null })"
  >
    <option value="">{{ t('stations.show.wholeScript') }}</option>
    <option v-for="id in conditions" :key="id" :value="id">{{ named.get(id)?.label ?? id }}</option>
  </select>
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.show_good"
      @change="emit('change', { show_good: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.show.showGood') }}
  </label>
</template>

<style scoped>
.lanes {
  list-style: none;
  margin: 0;
  padding: 0;
}
.lanes li {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  padding: 3px 0;
  white-space: pre;
}
.lanes i {
  width: 4px;
  height: 14px;
  margin-right: 7px;
}
.lanes button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
</style>
