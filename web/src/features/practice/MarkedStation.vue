<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { shown, unitWithReference } from '@/format/units'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

type Part = Schemas['MarkedPart']

/** One station of the debrief: what was given, what is right, and why. */
defineProps<{ station: Schemas['MarkedStation'] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()

function value(part: Part): string {
  const quantity = quantities.value.get(part.quantity ?? '')
  return `${shown(part.value, quantity, part.step ?? 1, units.value).text} ${unitWithReference(quantity, units.value)}`
}
</script>

<template>
  <section class="station">
    <header>
      <h2>{{ station.title }}</h2>
      <span class="label">{{ t(`editor.kinds.${station.kind}`) }}</span>
      <b v-if="station.points !== null" class="points">{{
        t('debrief.points', { n: Math.round(100 * station.points) })
      }}</b>
    </header>
    <p v-if="!station.answered" class="soft">{{ t('debrief.notAnswered') }}</p>

    <table v-else-if="station.kind === 'judge'" class="plain stacks">
      <thead>
        <tr>
          <th>{{ t('player.reading') }}</th>
          <th class="number">{{ t('player.value') }}</th>
          <th>{{ t('debrief.given') }}</th>
          <th>{{ t('debrief.right') }}</th>
          <th>{{ t('debrief.why') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(part, k) in station.parts" :key="k" :class="{ off: part.points !== 1 }">
          <td class="what">
            <div>
              {{ part.condition_label }}<br /><span class="soft"
                >{{ part.label }}, {{ t(part.from_faulty_car ? 'debrief.yourCar' : 'debrief.soundCar') }}</span
              >
            </div>
          </td>
          <td class="number" :data-label="t('player.value')">
            <b>{{ value(part) }}</b>
          </td>
          <td :data-label="t('debrief.given')"><VerdictMark v-if="part.given" :kind="String(part.given)" /></td>
          <td :data-label="t('debrief.right')"><VerdictMark v-if="part.verdict" :kind="part.verdict" /></td>
          <td class="why">{{ part.reason }}</td>
        </tr>
      </tbody>
    </table>

    <div v-for="part in station.kind === 'measure' ? station.parts : []" :key="part.label" class="measure">
      <span class="label">{{ t('debrief.given') }}</span><b>{{ part.given }}</b>
      <span class="label">{{ t('debrief.right') }}</span><span
        ><b>{{ value(part) }}</b
        >, <span class="soft">{{ part.condition_label }}, {{ part.label }}</span></span
      >
      <span class="label">{{ t('debrief.why') }}</span><span>{{ part.reason }}</span>
    </div>

    <table v-if="station.answered && station.kind === 'conclude'" class="plain stacks">
      <tbody>
        <tr v-for="part in station.parts" :key="part.id ?? part.label" :class="{ off: part.given && !part.points }">
          <td class="chosen">{{ part.given ? t('debrief.chosen') : '' }}</td>
          <td class="what">
            <div>
              <b>{{ part.label }}</b>
              <template v-if="part.true_cause"
                ><br /><span class="truth">{{ t('editor.trueCause') }}</span></template
              >
            </div>
          </td>
          <td class="why">{{ part.reason }}</td>
        </tr>
      </tbody>
    </table>
    <slot></slot>
  </section>
</template>

<style scoped>
.station {
  margin-top: var(--space-5);
}
header {
  display: flex;
  align-items: baseline;
  gap: var(--space-3);
  border-bottom: 1px solid var(--text);
}
header h2 {
  margin: 0 0 2px;
}
.points {
  margin-left: auto;
  font-size: var(--text-lead);
}
.what {
  width: 250px;
}
.why {
  max-width: 60ch;
}
.off td:first-child {
  box-shadow: inset 3px 0 0 var(--accent);
}
.chosen {
  width: 70px;
  color: var(--accent);
  font-weight: 600;
}
.truth {
  color: var(--accent);
}
.measure {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 4px var(--space-3);
  align-items: baseline;
  padding: var(--space-2) 0;
}
@media (max-width: 600px) {
  .what,
  .why {
    width: auto;
  }
}
</style>
