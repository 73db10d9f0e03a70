<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { units } from '@/api/session'
import { converter, tickText, unitWithReference } from '@/format/units'
import { pathOf, scaleOf } from '@/parts/explorer/axis'
import type { Drawing, Hands, Shown } from '@/parts/explorer/useDrawing'

/** The curves of a drawing over what a hand moves, with the moving point, in the person's units. */
const props = defineProps<{ drawing: Drawing; shown: Shown; hands: Hands }>()
const { t } = useI18n()
const { quantities } = useCatalogue()
const W = 420
const H = 230
const LEFT = 52
const RIGHT = 12
const TOP = 16
const BOTTOM = 38
const DASHES = ['', '7 4', '2 4', '10 3 2 3']

const hand = computed(() => props.drawing.hands.find((entry) => entry.id === props.drawing.along))
const lines = computed(() => {
  const along = quantities.value.get(hand.value?.quantity ?? '')
  const toX = converter(along, units.value)
  const found = props.shown.curves.map((curve) => {
    const seen = props.drawing.seen.find((entry) => entry.id === curve.seen)
    const quantity = quantities.value.get(seen?.quantity ?? '')
    const toY = converter(quantity, units.value)
    return {
      id: curve.seen,
      label: seen?.label ?? curve.seen,
      unit: unitWithReference(quantity, units.value),
      quantity: seen?.quantity ?? '',
      xs: curve.given.map(toX),
      ys: curve.result.map(toY),
      now: toY(props.shown.numbers[curve.seen] ?? 0),
    }
  })
  return {
    found,
    nowX: toX(Number(props.hands[props.drawing.along] ?? 0)),
    unit: unitWithReference(along, units.value),
  }
})
const shared = computed(() => new Set(lines.value.found.map((line) => line.quantity)).size <= 1)
const x = computed(() => scaleOf(lines.value.found[0]?.xs ?? [0, 1], LEFT, W - RIGHT))
const drawn = computed(() =>
  lines.value.found.map((line, k) => {
    const all = shared.value ? lines.value.found.flatMap((other) => other.ys) : line.ys
    // A single share of something is looked at against the whole.
    const whole = lines.value.found.length === 1 && line.quantity === 'percent' ? [100] : []
    const y = scaleOf([...all, ...whole, 0], H - BOTTOM, TOP)
    return { ...line, y, dash: DASHES[k], path: pathOf(line.xs.map(x.value.at), line.ys.map(y.at)) }
  }),
)
const title = computed(() =>
  t('explorer.curve', { what: drawn.value.map((line) => line.label).join(', '), along: hand.value?.label ?? '' }),
)
</script>

<template>
  <figure v-if="drawn.length">
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="title">
      <g v-for="tick in x.ticks" :key="`x${tick}`">
        <path :d="`M${x.at(tick)} ${TOP}V${H - BOTTOM}`" class="grid" />
        <text :x="x.at(tick)" :y="H - BOTTOM + 15" text-anchor="middle">{{ tickText(tick) }}</text>
      </g>
      <template v-if="shared">
        <g v-for="tick in drawn[0]?.y.ticks" :key="`y${tick}`">
          <path :d="`M${LEFT} ${drawn[0]?.y.at(tick)}H${W - RIGHT}`" class="grid" />
          <text :x="LEFT - 6" :y="(drawn[0]?.y.at(tick) ?? 0) + 4" text-anchor="end">{{ tickText(tick) }}</text>
        </g>
        <text x="4" y="11">{{ drawn[0]?.unit }}</text>
      </template>
      <text :x="W - RIGHT" :y="H - 5" text-anchor="end">{{ hand?.label }} {{ lines.unit && `[${lines.unit}]` }}</text>
      <path :d="`M${x.at(lines.nowX)} ${TOP}V${H - BOTTOM}`" class="now" />
      <g v-for="line in drawn" :key="line.id">
        <path :d="line.path" class="line" :stroke-dasharray="line.dash" />
        <circle :cx="x.at(lines.nowX)" :cy="line.y.at(line.now)" r="4.5" class="dot" />
      </g>
    </svg>
    <figcaption class="small soft">
      <span v-for="line in drawn" :key="line.id" class="key">
        <svg width="26" height="8" aria-hidden="true">
          <path d="M0 4H26" class="line" :stroke-dasharray="line.dash" />
        </svg>
        {{ line.label }} {{ line.unit && `[${line.unit}]` }}
      </span>
      <span v-if="!shared">{{ t('explorer.ownScale', { list: drawn.map((line) => line.label).join(', ') }) }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
}
.key svg {
  width: 26px;
}
.key {
  margin-right: var(--space-3);
  white-space: nowrap;
}
text {
  font-size: 11px;
  fill: var(--text-soft);
}
.grid {
  stroke: var(--surface-strong);
}
.now {
  stroke: var(--accent);
  stroke-width: 1;
}
.line {
  fill: none;
  stroke: var(--text);
  stroke-width: 1.8;
}
.dot {
  fill: var(--accent);
}
</style>
