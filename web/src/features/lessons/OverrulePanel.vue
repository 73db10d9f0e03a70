<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { converted, kept, unitWithReference } from '@/format/units'
import type { Station } from '@/parts/stations/kind'

/** A trainer's word over the model's: for one part of the key, what is right instead, why, and by which source. */
type Ruling = Schemas['RulingOut']
type Override = Schemas['Override']
const props = defineProps<{ rulings: Ruling[]; station: Station }>()
const emit = defineEmits<{ change: [overrides: Override[]] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()

const laid = computed<Override[]>(() => props.station.overrides ?? [])
const free = computed(() => props.rulings.filter((r) => !laid.value.some((o) => o.part === r.part)))
const open = ref('')
const draft = reactive({ right: '', low: '', high: '', why: '', source: '' })
const opened = computed(() => free.value.find((r) => r.part === open.value))

const quantity = (ruling: Ruling) => quantities.value.get(ruling.quantity)
const shownEnd = (ruling: Ruling, end: number | null) =>
  end == null ? '' : converted(end, quantity(ruling), units.value).toPrecision(4)

function begin(ruling: Ruling) {
  open.value = ruling.part
  Object.assign(draft, {
    right: '',
    low: shownEnd(ruling, ruling.low),
    high: shownEnd(ruling, ruling.high),
    why: '',
    source: '',
  })
}

const bandMoved = computed(() => {
  const ruling = opened.value
  return (
    !!ruling?.quantity && (draft.low !== shownEnd(ruling, ruling.low) || draft.high !== shownEnd(ruling, ruling.high))
  )
})
const whole = computed(() => !!draft.why.trim() && !!draft.source.trim())

function end(text: string): number | null {
  const value = Number(String(text).replace(',', '.'))
  return String(text).trim() === '' || Number.isNaN(value) || !opened.value
    ? null
    : kept(value, quantity(opened.value), units.value)
}

function lay() {
  if (!opened.value || !whole.value) return
  const band = !draft.right && bandMoved.value
  const made: Override = {
    part: opened.value.part,
    right: draft.right,
    low: band ? end(draft.low) : null,
    high: band ? end(draft.high) : null,
    why: draft.why.trim(),
    source: draft.source.trim(),
  }
  open.value = ''
  emit('change', [...laid.value, made])
}

const label = (part: string) => props.rulings.find((r) => r.part === part)?.label ?? part
function says(override: Override): string {
  const ruling = props.rulings.find((r) => r.part === override.part)
  if (override.right) return ruling?.options[override.right] ?? override.right
  if (override.low == null && override.high == null) return t('overrule.reasonIs')
  const ends = [override.low ?? null, override.high ?? null].map((e) => (ruling ? shownEnd(ruling, e) : `${e ?? ''}`))
  return t('overrule.bandIs', {
    low: ends[0] || '–',
    high: ends[1] || '–',
    unit: ruling ? unitWithReference(quantity(ruling), units.value) : '',
  })
}
</script>

<template>
  <details class="overrule" :open="laid.length > 0">
    <summary>{{ t('overrule.title', { n: laid.length }, laid.length) }}</summary>
    <ul v-if="laid.length" class="rows">
      <li v-for="override in laid" :key="override.part">
        <span
          ><b>{{ says(override) }}</b> · {{ label(override.part) }}</span
        >
        <span class="small soft">{{ override.why }} {{ t('overrule.by', { source: override.source }) }}</span>
        <button
          type="button"
          class="quiet"
          @click="
            emit(
              'change',
              laid.filter((o) => o !== override),
            )
          "
        >
          {{ t('overrule.back') }}
        </button>
      </li>
    </ul>
    <ul class="rows">
      <li v-for="ruling in free" :key="ruling.part">
        <span>{{ ruling.label }}</span>
        <span class="small soft">{{ ruling.options[ruling.now] ?? '' }}</span>
        <button v-if="open !== ruling.part" type="button" class="quiet" @click="begin(ruling)">
          {{ t('overrule.open') }}
        </button>
        <form v-else class="form" @submit.prevent="lay">
          <div v-if="Object.keys(ruling.options).length">
            <span class="label">{{ t('overrule.right') }}</span>
            <ChooseOne
              :value="draft.right"
              :entries="Object.entries(ruling.options).map(([value, label]) => ({ value, label }))"
              :label="t('overrule.right')"
              :none="t(bandMoved ? 'overrule.byBand' : 'overrule.asModel')"
              @choose="(right) => (draft.right = right)"
            />
          </div>
          <fieldset v-if="ruling.quantity && !draft.right" class="band">
            <legend class="label">
              {{ t('overrule.band', { unit: unitWithReference(quantity(ruling), units) }) }}
            </legend>
            <input v-model="draft.low" inputmode="decimal" :aria-label="t('overrule.low')" />
            <span>–</span>
            <input v-model="draft.high" inputmode="decimal" :aria-label="t('overrule.high')" />
          </fieldset>
          <label class="wide"
            ><span class="label">{{ t('overrule.why') }}</span
            ><textarea v-model="draft.why" rows="2" maxlength="600" />
          </label>
          <label class="source"
            ><span class="label">{{ t('overrule.source') }}</span
            ><input v-model="draft.source" maxlength="200" :placeholder="t('overrule.sourceHint')"
          /></label>
          <button type="submit" class="quiet" :disabled="!whole">{{ t('overrule.lay') }}</button>
          <button type="button" class="quiet" @click="open = ''">{{ t('overrule.cancel') }}</button>
        </form>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.overrule {
  margin-top: var(--space-2);
}
summary {
  cursor: pointer;
  color: var(--text-soft);
}
.rows {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
.rows li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 12px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
.rows li > .quiet {
  margin-left: auto;
}
.form {
  flex-basis: 100%;
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: var(--space-2) var(--space-3);
  padding: var(--space-2) 0;
}
.form label,
.band {
  border: 0;
  padding: 0;
  margin: 0;
}
.form .label {
  display: block;
}
.band input {
  width: 84px;
}
.band span {
  padding: 0 6px;
}
.wide {
  flex: 1 1 100%;
}
.source {
  flex: 1 1 260px;
}
.wide textarea,
.source input {
  display: block;
  width: 100%;
}
.form > .quiet {
  padding: 5px 10px;
}
.quiet {
  border: 1px solid var(--edge);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  padding: 2px 8px;
  font-size: 12px;
}
.quiet:disabled {
  color: var(--edge);
  cursor: default;
}
</style>
