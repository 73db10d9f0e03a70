<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'

/** Lanes in their order, at least one. */
defineProps<{ label: string; chosen: string[]; most: number; only?: string[] }>()
const emit = defineEmits<{ change: [chosen: string[]] }>()
const { t } = useI18n()
const { channels } = useCatalogue()
</script>

<template>
  <span class="label">{{ label }}</span>
  <ol class="lanes">
    <li v-for="(name, k) in chosen" :key="name">
      <i :style="{ background: `var(--${channels.get(name)?.family})` }"></i>
      {{ channels.get(name)?.label ?? name
      }}<span class="soft">, {{ t(`layer.${channels.get(name)?.layer ?? 'scan'}`) }}</span>
      <button
        v-if="chosen.length > 1"
        type="button"
        :aria-label="t('bench.removeLane', { label: channels.get(name)?.label ?? name })"
        @click="
          emit(
            'change',
            chosen.filter((_, j) => j !== k),
          )
        "
      >
        ×
      </button>
    </li>
  </ol>
  <ChannelSelect
    v-if="chosen.length < most"
    value=""
    :prompt="`+ ${t('bench.addLane')}`"
    :without="chosen"
    :only="only"
    @choose="(name) => emit('change', [...chosen, name])"
  />
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
