<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, toRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { units } from '@/api/session'
import { shown as worded } from '@/format/units'
import CurveLines from '@/parts/explorer/CurveLines.vue'
import { PICTURES } from '@/parts/explorer/pictures'
import TraceLines from '@/parts/explorer/TraceLines.vue'
import { useDrawing, type Hands } from '@/parts/explorer/useDrawing'

/** A drawing to take in hand: the picture, its numbers and curve, the hands, and the idea step by step. */
const props = defineProps<{ drawing: string; start?: Hands; bare?: boolean }>()
const { t } = useI18n()
const { quantities } = useCatalogue()
const known = useQuery({
  queryKey: ['drawing', toRef(props, 'drawing')],
  queryFn: () => unwrap(client.GET('/api/atlas/drawings/{drawing}', { params: { path: { drawing: props.drawing } } })),
  staleTime: Infinity,
})
const definition = computed(() => known.data.value)
const { hands, shown, problem, set, pose } = useDrawing(definition, toRef(props, 'start'))
const picture = computed(() => PICTURES[props.drawing])

type Hand = Schemas['HandOut']
function say(value: number | undefined, quantity: string, digits: number) {
  return worded(value, quantities.value.get(quantity), digits, units.value)
}
/** A power as it is written behind a ten. */
function raised(power: number): string {
  const signs = '⁰¹²³⁴⁵⁶⁷⁸⁹'
  return String(power)
    .replace(/-/, '⁻')
    .replace(/\d/g, (digit) => signs[Number(digit)] ?? '')
}
/** What is less than the last digit is told in powers of ten. */
function told(value: number | undefined, quantity: string, digits: number): string {
  if (value === undefined) return '–'
  if (quantity === 'lambda' && value > 9) return t('explorer.air')
  if (quantity === 'resistance' && value >= 1e4)
    return value >= 1e6 ? `${(value / 1e6).toPrecision(2)} MΩ` : `${(value / 1e3).toPrecision(3)} kΩ`
  if (quantity === 'percent' && value > 0 && value < 0.5 * 10 ** -digits)
    return `10${raised(Math.round(Math.log10(value)))} %`
  const { text, unit } = say(value, quantity, digits)
  return `${text} ${unit}`.trim()
}
const at = (hand: Hand) => {
  const { text, unit } = say(Number(hands.value[hand.id] ?? hand.start), hand.quantity, hand.digits)
  return `${text} ${unit}`.trim()
}
</script>

<template>
  <section v-if="definition" class="explorer" :aria-label="definition.label">
    <p v-if="!bare" class="shows">{{ definition.shows }}.</p>
    <div class="poses" role="group" :aria-label="t('explorer.steps')">
      <button
        v-for="(entry, k) in definition.poses"
        :key="entry.id"
        type="button"
        class="tool"
        :aria-pressed="pose?.id === entry.id"
        @click="set(entry.hands)"
      >
        <span class="soft">{{ k + 1 }}</span> {{ entry.label }}
      </button>
    </div>
    <p class="pose small soft">{{ pose?.words ?? '&nbsp;' }}</p>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <template v-if="shown">
      <div class="sight" :class="{ single: !picture }">
        <div v-if="picture" class="side">
          <div
            class="picture"
            role="img"
            :aria-label="t('explorer.picture', { label: definition.label, words: shown.words })"
          >
            <component :is="picture" :hands="hands" :numbers="shown.numbers" />
          </div>
          <p class="says" aria-live="polite">{{ shown.words }}</p>
        </div>
        <div class="side">
          <TraceLines v-if="shown.traces.length" :traces="shown.traces" />
          <CurveLines v-if="shown.curves.length" :drawing="definition" :shown="shown" :hands="hands" />
          <table class="plain figures">
            <tbody>
              <tr v-for="entry in definition.seen" :key="entry.id">
                <td>{{ entry.label }}</td>
                <td class="number">
                  <b :data-testid="`seen-${entry.id}`">{{
                    told(shown.numbers[entry.id], entry.quantity, entry.digits)
                  }}</b>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
      <p v-if="!picture" class="says" aria-live="polite">{{ shown.words }}</p>
    </template>
    <p v-else class="soft" role="status">{{ t('explorer.computing') }}</p>
    <div class="hands" role="group" :aria-label="t('explorer.hands')">
      <div v-for="hand in definition.hands" :key="hand.id" class="hand">
        <template v-if="hand.choices.length">
          <span class="label">{{ hand.label }}</span>
          <span class="choices" role="group" :aria-label="hand.label">
            <button
              v-for="choice in hand.choices"
              :key="choice.id"
              type="button"
              class="tool"
              :aria-pressed="hands[hand.id] === choice.id"
              @click="set({ [hand.id]: choice.id })"
            >
              {{ choice.label }}
            </button>
          </span>
        </template>
        <template v-else>
          <span class="label line"
            >{{ hand.label }} <b>{{ at(hand) }}</b></span
          >
          <ElSlider
            :model-value="Number(hands[hand.id] ?? hand.start)"
            :min="hand.low"
            :max="hand.high"
            :step="hand.step"
            :show-tooltip="false"
            :aria-label="hand.label"
            :format-value-text="() => at(hand)"
            @input="(value: number | number[]) => set({ [hand.id]: Number(value) })"
          />
        </template>
      </div>
    </div>
    <p class="holds small soft">{{ t('explorer.holds', { where: definition.holds }) }}</p>
  </section>
  <p v-else-if="known.error.value" role="alert">{{ sentence(known.error.value) }}</p>
</template>

<style scoped>
.explorer {
  container-type: inline-size;
}
.shows {
  margin-bottom: var(--space-2);
}
.poses {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.pose {
  min-height: 1.5em;
  margin: 4px 0 var(--space-2);
}
.single {
  max-width: 620px;
}
.sight {
  max-width: 980px;
  display: grid;
  gap: var(--space-3) var(--space-4);
}
@container (min-width: 700px) {
  .sight:not(.single) {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
}
.picture {
  border: 1px solid var(--rule);
  background: var(--surface-sunk);
  align-self: start;
}
.picture :deep(svg) {
  display: block;
  width: 100%;
}
.picture :deep(text) {
  font-size: 11px;
  fill: var(--text-soft);
}
.picture :deep(text.b) {
  fill: var(--text);
  font-weight: 600;
}
.picture :deep(.wall) {
  fill: var(--surface-strong);
  stroke: var(--text);
}
.picture :deep(.ink) {
  fill: none;
  stroke: var(--text);
  stroke-width: 1.4;
}
.picture :deep(.lead) {
  fill: none;
  stroke: var(--text-faint);
  stroke-width: 0.8;
}
.picture :deep(.flow) {
  fill: none;
  stroke: var(--accent);
  stroke-width: 1.8;
}
.figures td {
  padding: 2px 8px;
}
.says {
  margin: var(--space-3) 0;
  min-height: 2.9em;
  max-width: 90ch;
}
.hands {
  max-width: 980px;
  display: grid;
  gap: 0 var(--space-4);
}
@container (min-width: 560px) {
  .hands {
    grid-template-columns: 1fr 1fr;
  }
}
.hand {
  padding-right: 10px;
}
.hand .label {
  display: block;
}
.line b {
  color: var(--text);
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 4px 0 8px;
}
.holds {
  margin-top: var(--space-2);
}
</style>
