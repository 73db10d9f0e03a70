<script setup lang="ts">
import 'katex/dist/katex.min.css'
import { computed, ref } from 'vue'
import { render } from '@/parts/prose/render'
import { useGlossary, type Term } from '@/parts/terms/glossary'

/** Prose with formulas; words of the glossary tell what they mean, under the pointer and by keyboard. */
const props = defineProps<{ text: string }>()
const { terms, finder } = useGlossary()
const html = computed(() => render(props.text, finder.value))
const at = ref<HTMLElement>()
const told = ref<Term>()
function tell(event: Event) {
  const word = (event.target as HTMLElement).closest<HTMLElement>('.term')
  told.value = word ? terms.value.find((term) => term.term === word.dataset.term) : undefined
  if (word) at.value = word
}
</script>

<template>
  <div
    class="prose"
    @mouseover="tell"
    @focusin="tell"
    @mouseleave="told = undefined"
    @focusout="told = undefined"
    @keydown.esc="told = undefined"
    v-html="html"
  ></div>
  <ElTooltip
    v-if="at"
    :virtual-ref="at"
    virtual-triggering
    :visible="told !== undefined"
    placement="top"
    popper-class="term-help"
  >
    <template #content
      ><b>{{ told?.full }}</b
      ><br />{{ told?.means }}</template
    >
  </ElTooltip>
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
.prose :deep(.term) {
  text-decoration: underline dotted;
  text-decoration-color: var(--edge);
  text-underline-offset: 3px;
  cursor: help;
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
