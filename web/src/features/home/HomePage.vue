<script setup lang="ts">
import { makesLessons } from '@/api/session'
import LearnerHome from '@/features/home/LearnerHome.vue'
import TrainerHome from '@/features/home/TrainerHome.vue'
</script>

<template>
  <TrainerHome v-if="makesLessons" />
  <LearnerHome v-else />
</template>
