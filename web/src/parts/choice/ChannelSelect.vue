<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Channel } from '@/api/catalogue'
import { grouped } from '@/parts/choice/groups'
import PickOne from '@/parts/choice/PickOne.vue'

/** One channel of all, grouped by sensor family; the layer stands behind each name. */
const props = defineProps<{ value: string; without?: string[]; only?: string[]; prompt?: string }>()
const emit = defineEmits<{ choose: [channel: string] }>()
const { t } = useI18n()
const { channels } = useCatalogue()

function isOffered(channel: Channel): boolean {
  if (channel.id === props.value) return true
  return !props.without?.includes(channel.id) && (!props.only || props.only.includes(channel.id))
}

const groups = computed(() =>
  grouped(
    [...channels.value.values()].filter(isOffered),
    (channel) => t(`family.${channel.family}`),
    (channel) => ({
      value: channel.id,
      label: channel.layer === 'scan' ? channel.label : `${channel.label} (${t(`layer.${channel.layer}`)})`,
    }),
  ),
)
</script>

<template>
  <PickOne
    :value="value"
    :groups="groups"
    :label="prompt ?? t('editor.channel')"
    :prompt="prompt"
    @choose="(name) => emit('choose', name)"
  />
</template>
