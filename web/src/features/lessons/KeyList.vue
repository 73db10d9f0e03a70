<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { converted, shown, unitWithReference } from '@/format/units'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

type Part = Schemas['KeyPart']

/** The key of a station, as the core computed it for the chosen car. */
defineProps<{ parts: Part[]; kind: string }>()
const { t } = useI18n()
const { quantities } = useCatalogue()

function text(part: Part, value: number | null | undefined): string {
  const quantity = quantities.value.get(part.quantity ?? '')
  return `${shown(value, quantity, part.step ?? 1, units.value).text} ${unitWithReference(quantity, units.value)}`
}

/** A tolerance is a difference: the offset of a unit drops out. */
function tolerance(part: Part): string {
  const quantity = quantities.value.get(part.quantity ?? '')
  const size = converted(part.tolerance ?? 0, quantity, units.value) - converted(0, quantity, units.value)
  return `${size.toPrecision(2)} ${unitWithReference(quantity, units.value)}`
}
</script>

<template>
  <p v-if="!parts.length" class="soft">{{ t('editor.noKey') }}</p>
  <ul v-else class="key">
    <li v-for="(part, k) in parts" :key="k">
      <template v-if="kind === 'conclude'">
        <b>{{ part.label }}</b>
        <span class="soft"> {{ part.explains ? t('editor.explains') : t('editor.explainsNot') }}</span>
        <span v-if="part.true_cause" class="built">{{ t('editor.trueCause') }}: {{ part.detail }}</span>
      </template>
      <template v-else>
        <VerdictMark v-if="part.verdict" :kind="part.verdict" />
        <span class="what">
          <b>{{ text(part, part.value) }}</b>
          <span v-if="part.tolerance"> {{ t('editor.tolerated', { value: tolerance(part) }) }}</span>
          <span class="soft"> {{ part.condition_label }}, {{ part.label }}</span>
          <span v-if="part.from_faulty_car !== null && part.from_faulty_car !== undefined" class="soft"
            >, {{ t(part.from_faulty_car ? 'editor.faultyCar' : 'editor.soundCar') }}</span
          >
        </span>
      </template>
      <span class="small why">{{ part.reason }}</span>
    </li>
  </ul>
</template>

<style scoped>
.key {
  list-style: none;
  margin: 0;
  padding: 0;
}
.key li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 10px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.why {
  flex-basis: 100%;
}
.what .soft {
  margin-left: 4px;
}
.built {
  color: var(--accent);
}
</style>
