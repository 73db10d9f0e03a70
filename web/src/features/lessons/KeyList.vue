<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Key } from '@/parts/stations/kind'
import { kindOf } from '@/parts/stations/kinds'
import OverruledNotes from '@/parts/stations/OverruledNotes.vue'

/** The key of a station, as the core computed it for the chosen car. */
const props = defineProps<{ found: Key }>()
const { t } = useI18n()
const keyed = computed(() => kindOf(props.found).keyed)
</script>

<template>
  <ul v-if="keyed && found.parts?.length" class="key">
    <component :is="keyed" :parts="found.parts" />
    <li><OverruledNotes :parts="found.parts" /></li>
  </ul>
  <p v-else class="soft">{{ t('editor.noKey') }}</p>
</template>

<style scoped>
.key {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
