<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { useKeys } from '@/parts/controls/keys'

/** «?» shows the keys of the screen. */
const { t, tm } = useI18n()
const route = useRoute()
const open = ref(false)
const withLanes = computed(() => ['drive', 'editor', 'player'].includes(String(route.name)))
const onBench = computed(() => route.name === 'bench')
const rows = computed(() => [
  ...(withLanes.value
    ? [
        { keys: '← →', does: t('lanes.keys.arrows') },
        { keys: '[ ]', does: t('lanes.keys.brackets') },
        { keys: '0', does: t('lanes.keys.zero') },
        { keys: t('lanes.keys.dragName'), does: t('lanes.keys.drag') },
      ]
    : []),
  ...(onBench.value
    ? Object.entries(tm('live.keys') as Record<string, { keys: string; does: string }>).map(([, row]) => row)
    : []),
  { keys: t('search.key'), does: t('search.keyHelp') },
  { keys: 'Tab', does: t('app.keyTab') },
  { keys: '?', does: t('app.keyHelp') },
])

useKeys(() => ({ '?': () => (open.value = !open.value) }))
</script>

<template>
  <button type="button" class="help" :aria-label="t('app.shortcuts')" :title="t('app.shortcuts')" @click="open = true">
    ?
  </button>
  <ElDialog v-model="open" :title="t('app.shortcuts')" width="440">
    <table class="plain">
      <tbody>
        <tr v-for="row in rows" :key="row.keys">
          <td>
            <kbd>{{ row.keys }}</kbd>
          </td>
          <td>{{ row.does }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="withLanes" class="small soft">{{ t('app.keyFocus') }}</p>
  </ElDialog>
</template>

<style scoped>
.help {
  width: 24px;
  height: 24px;
  border: 1px solid var(--rule);
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
kbd {
  font-family: inherit;
  font-weight: 600;
  white-space: nowrap;
}
</style>
