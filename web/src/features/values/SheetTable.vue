<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { makesLessons } from '@/api/session'
import ServiceValueForm from '@/features/values/ServiceValueForm.vue'
import type { Row } from '@/features/values/sheet'
import { day } from '@/format/dates'
import AtlasLink from '@/parts/atlas/AtlasLink.vue'

/** The rows of a value sheet by family; each opens on why its band is so wide, and on the school's own value. */
const props = defineProps<{
  rows: Row[]
  rig: string
  condition: string
  /** Whether the air is not the school's: its bands are drawn beside those of the school. */
  elsewhere: boolean
  /** Name of the engine beside it, or nothing. */
  beside: string
  withOwn: boolean
  /** With room to write a reading by hand. */
  blank: boolean
}>()
const emit = defineEmits<{ changed: [fresh: unknown]; forget: [id: number] }>()
const { t, locale } = useI18n()
const families = computed(() => [...new Set(props.rows.map((row) => row.channel.family))])
const open = ref('')
const editing = ref('')

function keep(fresh: unknown) {
  emit('changed', fresh)
  editing.value = ''
}
</script>

<template>
  <table class="plain sheet stacks" :class="{ drawn: elsewhere || beside }">
    <thead>
      <tr>
        <th>{{ t('values.channel') }}</th>
        <th class="number">{{ t('values.healthy') }}</th>
        <th>{{ t('values.unit') }}</th>
        <th class="number">{{ t('values.median') }}</th>
        <th v-if="elsewhere || beside" class="bar no-print">
          <span class="key here">{{ t('values.here') }}</span>
          <span v-if="elsewhere" class="key school">{{ t('values.school') }}</span>
          <span v-if="beside" class="key other">{{ t('values.other') }}</span>
        </th>
        <th v-if="beside" class="number">{{ beside }}</th>
        <th v-if="withOwn || editing">{{ t('values.own') }}</th>
        <th v-if="blank" class="room">{{ t('values.reading') }}</th>
      </tr>
    </thead>
    <tbody v-for="family in families" :key="family" :style="{ '--family': `var(--${family})` }">
      <tr class="family">
        <th colspan="9" scope="rowgroup">{{ t(`family.${family}`) }}</th>
      </tr>
      <template v-for="row in rows.filter((entry) => entry.channel.family === family)" :key="row.channel.id">
        <tr :class="{ words: row.inWords }">
          <td :data-label="t('values.channel')">
            <button
              type="button"
              class="name"
              :aria-expanded="open === row.channel.id"
              @click="open = open === row.channel.id ? '' : row.channel.id"
            >
              {{ row.channel.label }}
            </button>
          </td>
          <td class="number" :data-label="t('values.healthy')">
            <div>
              <b :data-testid="`band-${row.channel.id}`">{{ row.band }}</b>
              <span v-if="row.mean" class="small soft mean">{{ t('values.swings', { band: row.mean }) }}</span>
            </div>
          </td>
          <td class="soft" :data-label="t('values.unit')">{{ row.unit }}</td>
          <td class="number" :data-label="t('values.median')">{{ row.median }}</td>
          <td v-if="elsewhere || beside" class="bar no-print">
            <svg v-if="row.bars.length" width="100%" height="20" aria-hidden="true">
              <rect
                v-for="(bar, k) in row.bars"
                :key="bar.kind"
                :x="`${1 + 98 * bar.from}%`"
                :y="2 + 6 * k"
                :width="`${Math.max(98 * (bar.to - bar.from), 1.5)}%`"
                height="4"
                :class="bar.kind"
              />
            </svg>
          </td>
          <td v-if="beside" class="number" :data-label="beside">
            <div>
              {{ row.other?.band ?? '–' }}
              <span v-if="row.other?.mean" class="small soft mean">{{
                t('values.swings', { band: row.other.mean })
              }}</span>
              <span v-if="row.other?.apart" class="small apart">{{ t('values.apart') }}</span>
            </div>
          </td>
          <td v-if="withOwn || editing" :data-label="t('values.own')">
            <div v-if="row.own">
              {{ row.own.band }}
              <span class="small soft source">{{
                [row.own.source, row.own.vehicle, day(row.own.made_at, locale)].filter(Boolean).join(', ')
              }}</span>
              <span v-if="row.own.apart" class="small apart">{{ t('values.apart') }}</span>
            </div>
          </td>
          <td v-if="blank" class="room"></td>
        </tr>
        <tr v-if="open === row.channel.id" class="why small">
          <td colspan="9">
            <p>
              {{ row.channel.meaning }}. {{ row.width }}
              <AtlasLink :rig="rig" :channel="row.channel.id" />
            </p>
            <p v-if="row.more.length">
              <span v-for="entry in row.more" :key="entry.stat" class="stat">
                {{ t(`editor.stats.${entry.stat}`) }} {{ entry.band }}
              </span>
            </p>
            <template v-if="makesLessons">
              <ServiceValueForm
                v-if="editing === row.channel.id"
                :rig="rig"
                :condition="condition"
                :channel="row.channel.id"
                :unit="row.unit"
                @kept="keep"
                @close="editing = ''"
              />
              <div v-else class="buttons no-print">
                <button type="button" @click="editing = row.channel.id">
                  {{ t(row.own ? 'values.change' : 'values.add') }}
                </button>
                <button v-if="row.own" type="button" @click="$emit('forget', row.own.id)">
                  {{ t('values.forget') }}
                </button>
              </div>
            </template>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
.sheet {
  width: auto;
  min-width: min(100%, 560px);
}
.sheet.drawn {
  width: 100%;
}
.drawn .bar {
  width: 30%;
  min-width: 120px;
}
.sheet td,
.sheet th {
  padding-top: 3px;
  padding-bottom: 3px;
}
.sheet td.number,
.bar {
  white-space: nowrap;
}
.sheet .words td.number {
  white-space: normal;
}
.family th {
  color: var(--family);
  border-bottom: 1px solid var(--rule);
  padding-top: var(--space-3);
}
.name {
  border: 0;
  border-left: 3px solid var(--family);
  background: none;
  color: var(--text);
  padding: 0 0 0 8px;
  text-align: left;
  cursor: pointer;
}
.name[aria-expanded='true'] {
  font-weight: 600;
}
.bar .here {
  fill: var(--text);
}
.bar .school {
  fill: none;
  stroke: var(--text-soft);
}
.bar .other {
  fill: var(--accent);
}
.key::before {
  content: '';
  display: inline-block;
  width: 10px;
  height: 4px;
  margin: 0 3px 2px 0;
  background: var(--text);
}
.key + .key {
  margin-left: 8px;
}
.key.school::before {
  background: none;
  outline: 1px solid var(--text-soft);
}
.key.other::before {
  background: var(--accent);
}
.why p::first-letter {
  text-transform: uppercase;
}
.apart {
  display: block;
  border-bottom: 1px dashed var(--text);
  width: fit-content;
  margin-left: auto;
}
.source,
.mean {
  display: block;
}
@media (max-width: 600px) {
  .drawn .bar {
    width: 100%;
  }
  .apart {
    margin-left: 0;
  }
}
.why td {
  background: var(--surface-sunk);
}
.why p {
  margin: 2px 0;
  max-width: 90ch;
}
.stat {
  margin-right: var(--space-4);
}
.room {
  min-width: 130px;
  border-left: 1px solid var(--rule);
}
</style>
