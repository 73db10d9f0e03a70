<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Channel } from '@/api/catalogue'

/** One channel of all, grouped by sensor family; the layer stands behind each name. */
const props = defineProps<{ value: string; without?: string[]; only?: string[]; prompt?: string }>()
const emit = defineEmits<{ choose: [channel: string] }>()
const { t } = useI18n()
const { channels } = useCatalogue()

const groups = computed(() => {
  const found = new Map<string, Channel[]>()
  for (const channel of channels.value.values()) {
    if (channel.id !== props.value && props.without?.includes(channel.id)) continue
    if (channel.id !== props.value && props.only && !props.only.includes(channel.id)) continue
    found.set(channel.family, [...(found.get(channel.family) ?? []), channel])
  }
  return [...found]
})

function choose(event: Event) {
  const select = event.target as HTMLSelectElement
  if (select.value) emit('choose', select.value)
  if (props.prompt) select.value = ''
}
</script>

<template>
  <select :value="value" :aria-label="prompt ?? t('editor.channel')" @change="choose">
    <option v-if="prompt" value="">{{ prompt }}</option>
    <optgroup v-for="[family, entries] in groups" :key="family" :label="t(`family.${family}`)">
      <option v-for="channel in entries" :key="channel.id" :value="channel.id">
        {{ channel.layer === 'scan' ? channel.label : `${channel.label} (${t(`layer.${channel.layer}`)})` }}
      </option>
    </optgroup>
  </select>
</template>
