<script setup lang="ts">
import katex from 'katex'
import 'katex/dist/katex.min.css'
import { computed } from 'vue'

/** A formula of the model's own, set. */
const props = defineProps<{ tex: string }>()
const html = computed(() => katex.renderToString(props.tex, { throwOnError: false, trust: false }))
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html -- what the model writes, set by the library -->
  <span v-html="html"></span>
</template>
