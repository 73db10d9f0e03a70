<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ConditionSelect from '@/parts/choice/ConditionSelect.vue'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'

type Place = Schemas['ReadingPlace']

/** Where a value is read: condition, channel, statistic. */
const props = defineProps<{ place: Place; conditions: string[]; only?: string[]; removable?: boolean }>()
const emit = defineEmits<{ change: [place: Place]; remove: [] }>()
const { t } = useI18n()
const { channels } = useCatalogue()

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
    <ChannelSelect class="channel" :value="place.channel" :only="only" @choose="changeChannel" />
    <button v-if="removable" type="button" class="remove" :aria-label="t('editor.removeRow')" @click="emit('remove')">
      ×
    </button>
    <ConditionSelect
      class="condition"
      :value="place.condition"
      :conditions="conditions"
      :label="t('editor.condition')"
      @choose="(condition) => emit('change', { ...place, condition })"
    />
    <select
      class="stat"
      :value="place.stat"
      :aria-label="t('editor.stat')"
      @change="emit('change', { ...place, stat: ($event.target as HTMLSelectElement).value as Place['stat'] })"
    >
      <option v-for="stat in stats" :key="stat" :value="stat">{{ t(`editor.stats.${stat}`) }}</option>
    </select>
  </div>
</template>

<style scoped>
/* The channel has a line of its own, so that condition and statistic can be read whole. */
.place {
  display: grid;
  grid-template: 'channel channel remove' auto 'condition stat .' auto / minmax(0, 1.05fr) minmax(0, 1fr) 18px;
  gap: 3px 4px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.channel {
  grid-area: channel;
}
.condition {
  grid-area: condition;
}
.stat {
  grid-area: stat;
}
.place :deep(select) {
  padding: 3px 2px;
  font-size: 12px;
}
.remove {
  grid-area: remove;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
  padding: 0;
}
</style>
