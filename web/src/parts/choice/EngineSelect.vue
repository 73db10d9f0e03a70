<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { grouped } from '@/parts/choice/groups'
import PickOne from '@/parts/choice/PickOne.vue'

/** One engine of all: each rig with its training variants behind it. */
defineProps<{ value: string }>()
const emit = defineEmits<{ choose: [rig: string] }>()
const { t } = useI18n()
const { catalogue } = useCatalogue()

const groups = computed(() => {
  const rigs = catalogue.value?.rigs ?? []
  return grouped(
    rigs,
    (rig) => rigs.find((other) => other.id === rig.base)?.name ?? '',
    (rig) => ({ value: rig.id, label: rig.name }),
  )
})
</script>

<template>
  <PickOne :value="value" :groups="groups" :label="t('bench.rig')" @choose="(rig) => emit('choose', rig)" />
</template>
