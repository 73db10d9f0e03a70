<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import LaneStack from '@/parts/lanes/LaneStack.vue'
import type { Lanes } from '@/parts/lanes/geometry'

/** Lanes of a station; a quiet place of their size while they come. */
defineProps<{ lanes?: Lanes | null; channels: string[]; showGood?: boolean; focus?: string | null }>()
const { t } = useI18n()
</script>

<template>
  <LaneStack
    v-if="lanes"
    :lanes="lanes"
    :channels="channels"
    :show-good="showGood ?? false"
    :focus="focus"
    :lane-height="channels.length === 1 ? 190 : channels.length > 3 ? 96 : 112"
  />
  <p v-else class="soft waiting">{{ t('app.loading') }}</p>
</template>

<style scoped>
.waiting {
  min-height: 200px;
}
</style>
