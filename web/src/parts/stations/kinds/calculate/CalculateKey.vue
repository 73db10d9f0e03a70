<script setup lang="ts">
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'
import FormulaText from '@/parts/prose/FormulaText.vue'

/** Every line with its numbers. */
defineProps<{ parts: Schemas['CalculateKey']['parts'] }>()
</script>

<template>
  <template v-for="part in parts" :key="part.working">
    <KeyRow v-for="line in part.lines" :key="line.symbol" :reason="line.label">
      <FormulaText :tex="`${line.tex} = ${line.numbers}`" /> <b>= {{ line.shown }}</b>
    </KeyRow>
    <li v-if="part.meaning" class="small">{{ part.meaning }}</li>
  </template>
</template>
