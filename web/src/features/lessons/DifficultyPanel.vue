<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'
import type { Lesson } from '@/features/lessons/draft'
import type { Remedy } from '@/features/lessons/remedies'

/** The size of a station's fault as a dial: what each size shows there; and how hard three learners' draws would be. */
const props = defineProps<{ lesson: Lesson; index: number }>()
const emit = defineEmits<{ remedy: [remedy: Remedy] }>()
const { t } = useI18n()

/** Words of a station change nothing of it. */
const wish = computed(() => {
  const { rig, script, drives, faults } = props.lesson
  const station = props.lesson.stations[props.index]
  return { rig, script, drives, faults, station: station && { ...station, title: '-', text: '' } }
})
const asked = ref('')
const current = computed(() => JSON.stringify(wish.value))
const found = useQuery({
  queryKey: ['difficulty', asked],
  queryFn: ({ signal }) => {
    const { station, ...car } = JSON.parse(asked.value) as { station: unknown }
    const document = { ...car, title: '-', stations: [station] } as Record<string, unknown>
    return unwrap(client.POST('/api/preview/difficulty', { body: { document, station: 0, seed: 0 }, signal }))
  },
  enabled: computed(() => asked.value !== ''),
  gcTime: 60_000,
})
watch(
  () => props.index,
  () => (asked.value = ''),
)
const stale = computed(() => asked.value !== current.value)
/** Wide enough for what tells plainly; beyond that, more is not easier. */
const FULL = 12
const share = (spreads: number) => `${(100 * Math.min(spreads, FULL)) / FULL}%`
</script>

<template>
  <div class="difficulty">
    <div class="head">
      <h2>{{ t('difficulty.title') }}</h2>
      <button v-if="stale" type="button" class="quiet" @click="asked = current">
        {{ t(asked ? 'difficulty.again' : 'difficulty.ask') }}
      </button>
    </div>
    <p v-if="found.isFetching.value" class="soft" role="status">{{ t('difficulty.computing') }}</p>
    <p v-else-if="found.error.value" role="alert">{{ sentence(found.error.value) }}</p>
    <template v-else-if="asked && found.data.value">
      <template v-if="found.data.value.dial.length">
        <p class="small soft">{{ t('difficulty.dial') }}</p>
        <table class="dial">
          <tbody>
            <tr v-for="step in found.data.value.dial" :key="step.share" :class="{ now: step.share === 1 }">
              <td class="size">{{ step.words }}</td>
              <td class="bar">
                <span class="full"
                  ><span class="part" :style="{ width: share(step.separation) }"></span
                  ><span class="limit" :style="{ left: share(found.data.value.told_from) }"></span
                ></span>
              </td>
              <td class="number">{{ step.separation.toFixed(1) }}</td>
              <td class="small soft">
                {{ step.telling ? t('difficulty.telling', { n: step.telling }, step.telling) : '' }}
              </td>
              <td>
                <span v-if="step.share === 1" class="small soft">{{ t('difficulty.here') }}</span>
                <button
                  v-else
                  type="button"
                  class="quiet"
                  :title="step.remedy.says"
                  @click="emit('remedy', step.remedy)"
                >
                  {{ t('difficulty.take') }}
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <p class="small soft">{{ t('difficulty.told', { n: found.data.value.told_from }) }}</p>
      </template>
      <p v-else class="soft">{{ t('difficulty.undone') }}</p>
      <ul v-if="found.data.value.turns.length" class="turns">
        <li v-for="(turn, k) in found.data.value.turns" :key="k">
          <span class="label">{{ t(turn.harder ? 'difficulty.harder' : 'difficulty.easier') }}</span>
          <button type="button" class="quiet" @click="emit('remedy', turn.remedy)">{{ turn.remedy.says }}</button>
        </li>
      </ul>
      <template v-if="found.data.value.draws.length">
        <span class="label">{{ t('difficulty.draws') }}</span>
        <ul class="draws">
          <li v-for="draw in found.data.value.draws" :key="draw.seed">
            <b>{{ t('difficulty.draw', { seed: draw.seed }) }}</b>
            <span>{{ t('difficulty.off', { off: draw.off, of: draw.of }) }}</span>
            <span class="soft">{{
              draw.hardest == null ? t('difficulty.none') : t('difficulty.hardest', { n: draw.hardest.toFixed(1) })
            }}</span>
          </li>
        </ul>
      </template>
    </template>
  </div>
</template>

<style scoped>
.difficulty {
  margin-top: var(--space-4);
}
.turns {
  list-style: none;
  margin: var(--space-2) 0 0;
  padding: 0;
}
.turns li {
  display: grid;
  grid-template-columns: 60px auto;
  justify-content: start;
  align-items: baseline;
  gap: var(--space-2);
  padding: 3px 0;
}
.turns button {
  text-align: left;
}
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  border-bottom: 1px solid var(--text);
  padding-bottom: 2px;
}
.head h2 {
  margin: 0;
}
.quiet {
  border: 1px solid var(--edge);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  padding: 0 8px;
  font-size: 12px;
}
.dial {
  width: 100%;
  border-collapse: collapse;
}
.dial td {
  padding: 2px 8px 2px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: middle;
}
.dial .size {
  max-width: 300px;
}
.now .size {
  font-weight: 600;
}
.bar {
  width: 26%;
  min-width: 90px;
}
.full {
  position: relative;
  display: block;
  height: 8px;
  background: var(--surface-sunk);
}
.part {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--text-soft);
}
.limit {
  position: absolute;
  top: -2px;
  bottom: -2px;
  border-left: 2px solid var(--text);
}
.number {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.draws {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-4);
  margin: 2px 0 0;
  padding: 0;
}
.draws li {
  display: flex;
  gap: var(--space-2);
}
</style>
