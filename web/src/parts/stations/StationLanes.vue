<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import LaneStack from '@/parts/lanes/LaneStack.vue'
import type { Lanes } from '@/parts/lanes/geometry'

/** Lanes of a station; a quiet place of their size while they come, so that nothing below jumps away from a hand. */
const props = defineProps<{ lanes?: Lanes | null; channels: string[]; showGood?: boolean; focus?: string | null }>()
const { t } = useI18n()
const height = computed(() => (props.channels.length === 1 ? 190 : props.channels.length > 3 ? 96 : 112))
</script>

<template>
  <LaneStack
    v-if="lanes"
    :lanes="lanes"
    :channels="channels"
    :show-good="showGood ?? false"
    :focus="focus"
    :lane-height="height"
  />
  <p v-else class="soft waiting" :style="{ '--lanes': channels.length, '--height': `${height}px` }">
    {{ t('app.loading') }}
  </p>
</template>

<style scoped>
/* Bar and ribbon of a stack, and each lane with its line; where it is narrow, label and readings stand above it. */
.waiting {
  --words: 1px;
  min-height: calc(89px + var(--lanes) * (var(--height) + var(--words)));
  margin: 0;
}
@container (max-width: 660px) {
  .waiting {
    --words: 58px;
  }
}
</style>
