<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'

type Place = Schemas['ReadingPlace']

/** Where a value is read: condition, channel, statistic. */
const props = defineProps<{ place: Place; conditions: string[]; only?: string[]; removable?: boolean }>()
const emit = defineEmits<{ change: [place: Place]; remove: [] }>()
const { t } = useI18n()
const { conditions: named, channels } = useCatalogue()

/** Statistics that tell something of a channel; what was chosen before stays on offer. */
const known = (channel: string) => channels.value.get(channel)?.statistics ?? ['mean', 'min', 'max']
const stats = computed(() => [...new Set([...known(props.place.channel), props.place.stat])] as Place['stat'][])

function changeChannel(channel: string) {
  const stat = known(channel).includes(props.place.stat) ? props.place.stat : 'mean'
  emit('change', { ...props.place, channel, stat })
}
</script>

<template>
  <div class="place">
    <select
      :value="place.condition"
      :aria-label="t('editor.condition')"
      @change="emit('change', { ...place, condition: ($event.target as HTMLSelectElement).value })"
    >
      <option v-for="id in conditions" :key="id" :value="id">{{ named.get(id)?.label ?? id }}</option>
    </select>
    <ChannelSelect :value="place.channel" :only="only" @choose="changeChannel" />
    <select
      :value="place.stat"
      :aria-label="t('editor.stat')"
      @change="emit('change', { ...place, stat: ($event.target as HTMLSelectElement).value as Place['stat'] })"
    >
      <option v-for="stat in stats" :key="stat" :value="stat">{{ t(`editor.stats.${stat}`) }}</option>
    </select>
    <button v-if="removable" type="button" class="remove" :aria-label="t('editor.removeRow')" @click="emit('remove')">
      ×
    </button>
  </div>
</template>

<style scoped>
.place {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr) 66px 18px;
  gap: 4px;
  margin-bottom: 4px;
}
.place :deep(select) {
  padding: 3px 2px;
  font-size: 12px;
  font-stretch: 85%;
}
.remove {
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
  padding: 0;
}
</style>
