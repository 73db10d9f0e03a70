<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Clash } from '@/features/lessons/merge'

/** Parts of the draft that somebody else has changed too: mine stands in the editor until one is chosen. */
defineProps<{ clashes: Clash[]; who: string }>()
const emit = defineEmits<{ settle: [clash: Clash, mine: boolean] }>()
const { t } = useI18n()
</script>

<template>
  <div class="clashes" role="alert">
    <p>{{ t('editor.clash', { who }) }}</p>
    <p v-for="clash in clashes" :key="clash.id" class="row">
      <b>{{ clash.id ? clash.title : t('editor.lessonPart') }}</b>
      <span v-if="clash.id && !clash.theirs" class="small soft">{{ t('editor.theyRemoved') }}</span>
      <span v-if="clash.id && !clash.mine" class="small soft">{{ t('editor.youRemoved') }}</span>
      <ElButton size="small" @click="emit('settle', clash, true)">{{ t('editor.keepMine') }}</ElButton>
      <ElButton size="small" @click="emit('settle', clash, false)">{{ t('editor.takeTheirs') }}</ElButton>
    </p>
  </div>
</template>

<style scoped>
.clashes {
  border-left: 3px solid var(--accent);
  padding: 2px 0 2px var(--space-2);
  margin: var(--space-2) 0;
}
p {
  margin: 2px 0;
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px;
}
.row b {
  margin-right: auto;
}
</style>
