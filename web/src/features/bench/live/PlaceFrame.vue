<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { inOne, useTold } from '@/api/told'
import type { Now } from '@/features/bench/live/line'
import AtlasLink from '@/parts/atlas/AtlasLink.vue'

/** The card of a place on the thread: its name, and its values beside those of the sound twin; each can become a lane. */
const props = defineProps<{
  title: string
  sub: string
  /** Name of the card for who does not see it. */
  name: string
  /** Channels in their order, called by their layer or by their own name. */
  channels: string[]
  byLayer?: boolean
  now: Now
  lanes: string[]
  /** Knot of the thread and engine, for the way to the atlas. */
  knot?: string
  rig?: string
}>()
const emit = defineEmits<{ lane: [channel: string]; close: [] }>()
const { t } = useI18n()
const { channels: known } = useCatalogue()
const { toldOf } = useTold()

/** An engine that keeps its secret has no twin to be looked at. */
const twin = computed(() => Object.keys(props.now.twin).length > 0)
const rows = computed(() =>
  props.channels.flatMap((name) => {
    const channel = known.value.get(name)
    if (!channel) return []
    const layer = t(`layer.${channel.layer}`)
    return [
      {
        name,
        label: props.byLayer ? layer : channel.label,
        layer,
        here: inOne(toldOf(name, props.now.values[name])),
        sound: inOne(toldOf(name, props.now.twin[name])),
      },
    ]
  }),
)
</script>

<template>
  <section class="card" :aria-label="name">
    <h2>
      {{ title }}
      <button type="button" class="close" :aria-label="t('app.close')" @click="emit('close')">×</button>
    </h2>
    <p class="small soft">{{ sub }} <AtlasLink v-if="knot && rig" :knot="knot" :rig="rig" /></p>
    <table v-if="rows.length" class="plain">
      <thead>
        <tr>
          <th></th>
          <th class="number">{{ t('live.here') }}</th>
          <th v-if="twin" class="number">{{ t('live.sound') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <td>
            <button
              type="button"
              class="layer"
              :disabled="lanes.includes(row.name)"
              :title="`${t('live.asLane')} (${row.layer})`"
              @click="emit('lane', row.name)"
            >
              {{ row.label }}
            </button>
          </td>
          <td class="number">{{ row.here }}</td>
          <td v-if="twin" class="number soft">{{ row.sound }}</td>
        </tr>
      </tbody>
    </table>
    <slot></slot>
  </section>
</template>

<style scoped>
.card {
  border: 1px solid var(--rule);
  border-top: 3px solid var(--accent);
  background: var(--surface);
  padding: var(--space-2) var(--space-3);
  margin-bottom: var(--space-3);
}
h2 {
  display: flex;
  margin: 0;
}
.close {
  margin-left: auto;
  border: 0;
  background: none;
  font-size: 16px;
  color: var(--text-soft);
  cursor: pointer;
}
table.plain :is(th, td) {
  padding: 2px 3px;
}
.layer {
  border: 0;
  background: none;
  padding: 0;
  color: var(--accent);
  text-align: left;
  cursor: pointer;
}
.layer:disabled {
  color: var(--text);
  cursor: default;
}
</style>
