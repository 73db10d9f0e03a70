<script setup lang="ts">
import { useI18n } from 'vue-i18n'

/** Nothing is right or wrong here. */
defineProps<{ parts: unknown[] }>()
const { t } = useI18n()
</script>

<template>
  <li class="small soft">{{ t('stations.reflect.forTrainer') }}</li>
</template>
