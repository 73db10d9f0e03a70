<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { pageOf, useAtlas } from '@/parts/atlas/pages'

/** From a sensor's name to its page of the atlas; nothing where it has none. */
const props = defineProps<{ rig: string; knot?: string; channel?: string }>()
const { t } = useI18n()
const { pages } = useAtlas()
const page = computed(() => pageOf(pages.value, { knot: props.knot, channel: props.channel }, props.rig))
</script>

<template>
  <RouterLink v-if="page" class="small" :to="{ name: 'device', params: { id: page.id }, query: { rig } }">{{
    t('atlas.inAtlas', { title: page.title })
  }}</RouterLink>
</template>
