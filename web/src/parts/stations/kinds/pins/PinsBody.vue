<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'

/** The pins with their volts in each state, to be given a role. */
const props = defineProps<BodyProps<'pins'>>()
const emit = defineEmits<{ change: [answer: Schemas['PinsAnswer']] }>()
const { t } = useI18n()

function choose(k: number, event: Event) {
  const chosen = (event.target as HTMLSelectElement).value || null
  emit('change', {
    ...props.answer,
    roles: props.view.pins.map((_pin, j) => (j === k ? chosen : (props.answer.roles?.[j] ?? null))),
  })
}
const shown = (volts: number) => `${volts.toFixed(2).replace('-', '\u2212')} V`
</script>

<template>
  <div class="holder">
    <table class="plain">
      <thead>
        <tr>
          <th>{{ t('stations.pins.pin') }}</th>
          <th v-for="state in view.states" :key="state" class="number">{{ state }}</th>
          <th>{{ t('stations.pins.is') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(pin, k) in view.pins" :key="pin.letter">
          <td>
            <b>{{ pin.letter }}</b>
          </td>
          <td v-for="(volts, j) in pin.volts" :key="j" class="number">{{ shown(volts) }}</td>
          <td>
            <select
              :aria-label="t('stations.pins.whatIs', { letter: pin.letter })"
              :value="answer.roles?.[k] ?? ''"
              :disabled="disabled"
              @change="choose(k, $event)"
            >
              <option value="">{{ t('stations.pins.choose') }}</option>
              <option v-for="role in view.roles" :key="role.id" :value="role.id">{{ role.label }}</option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="small soft">{{ t('stations.pins.volts') }}. {{ t('stations.pins.caution') }}</p>
  </div>
</template>

<style scoped>
.holder {
  overflow-x: auto;
}
select {
  border: 1px solid var(--text-soft);
  background: var(--field);
  color: var(--text);
  padding: 5px 8px;
  max-width: 100%;
}
</style>
