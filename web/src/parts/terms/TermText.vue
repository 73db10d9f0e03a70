<script setup lang="ts">
import { computed } from 'vue'
import { useGlossary } from '@/parts/terms/glossary'

/** A text in which words of the glossary tell what they mean: under the pointer, and by keyboard. */
const props = defineProps<{ text: string }>()
const { finder } = useGlossary()
const pieces = computed(() => finder.value(props.text))
</script>

<template>
  <span
    ><template v-for="(piece, k) in pieces" :key="k"
      ><ElTooltip v-if="piece.term" placement="top" :show-after="200" popper-class="term-help">
        <template #content
          ><b>{{ piece.term.full }}</b
          ><br />{{ piece.term.means }}</template
        >
        <span class="term" tabindex="0">{{ piece.text }}</span> </ElTooltip
      ><template v-else>{{ piece.text }}</template></template
    ></span
  >
</template>

<style scoped>
.term {
  text-decoration: underline dotted;
  text-decoration-color: var(--edge);
  text-underline-offset: 3px;
  cursor: help;
}
</style>
