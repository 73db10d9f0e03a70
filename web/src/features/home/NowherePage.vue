<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'

const { t } = useI18n()
</script>

<template>
  <div class="page">
    <p>{{ t('app.nowhere') }}</p>
    <RouterLink :to="{ name: 'home' }">{{ t('app.toHome') }}</RouterLink>
  </div>
</template>
