<script setup lang="ts">
import 'katex/dist/katex.min.css'
import { computed } from 'vue'
import { render } from '@/parts/prose/render'

const props = defineProps<{ text: string }>()
const html = computed(() => render(props.text))
</script>

<template>
  <div class="prose" v-html="html"></div>
</template>

<style scoped>
.prose {
  max-width: 68ch;
  font-size: 15px;
  line-height: 1.55;
}
.prose :deep(p) {
  margin: 0 0 0.7em;
}
.prose :deep(.katex) {
  font-size: 1.1em;
}
.prose :deep(.katex-display) {
  margin: 0.6em 0;
  text-align: left;
}
.prose :deep(.katex-display > .katex) {
  text-align: left;
}
</style>
