<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Lesson } from '@/features/lessons/draft'
import { drivesOf } from '@/features/lessons/drives'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import EngineSelect from '@/parts/choice/EngineSelect.vue'
import { named } from '@/parts/choice/groups'
import FaultList from '@/parts/faults/FaultList.vue'

/** What holds for the whole lesson: title, goal, car, script, faults, cautions. */
const props = defineProps<{ lesson: Lesson }>()
const emit = defineEmits<{ change: [part: Partial<Lesson>] }>()
const { t } = useI18n()
const { catalogue } = useCatalogue()

const levels = computed(() =>
  ['start', 'journeyman', 'expert'].map((level) => ({ value: level, label: t(`propose.levels.${level}`) })),
)
const rig = computed(() => catalogue.value?.rigs.find((r) => r.id === props.lesson.rig))

/** Another cause for some learners, changed; without faults given, it goes. */
function setOther(at: number, faults?: NonNullable<Lesson['faults']>) {
  const others = [...(props.lesson.or_else ?? [])]
  if (faults) others[at] = faults
  else others.splice(at, 1)
  emit('change', { or_else: others })
}

function value(event: Event): string {
  return (event.target as HTMLInputElement).value
}
</script>

<template>
  <div class="form">
    <label class="label" for="lesson-title">{{ t('editor.title') }}</label>
    <input id="lesson-title" :value="lesson.title" maxlength="160" @input="emit('change', { title: value($event) })" />
    <label class="label" for="lesson-goal">{{ t('editor.goal') }}</label>
    <textarea
      id="lesson-goal"
      rows="3"
      :value="lesson.goal"
      @input="emit('change', { goal: value($event) })"
    ></textarea>
    <div class="two">
      <div>
        <span class="label">{{ t('editor.rig') }}</span>
        <EngineSelect :value="lesson.rig ?? 'R1'" @choose="(rig) => emit('change', { rig })" />
      </div>
      <div>
        <span class="label">{{ t('editor.script') }}</span>
        <ChooseOne
          :value="lesson.script ?? ''"
          :entries="named(drivesOf(lesson, catalogue))"
          :label="t('editor.script')"
          @choose="(script) => emit('change', { script })"
        />
      </div>
    </div>
    <p class="small soft">{{ rig?.description }}</p>
    <span class="label">{{ t('bench.faults') }}</span>
    <FaultList :faults="lesson.faults ?? []" :rig="rig" @change="(faults) => emit('change', { faults })" />
    <template v-for="(faults, k) in lesson.or_else ?? []" :key="k">
      <div class="or-else">
        <span class="label">{{ t('editor.orElse') }}</span>
        <button type="button" class="quiet" @click="setOther(k)">{{ t('editor.orElseGone') }}</button>
      </div>
      <FaultList :faults="faults" :rig="rig" @change="(next) => setOther(k, next)" />
    </template>
    <p v-if="(lesson.or_else ?? []).length < 4">
      <button type="button" class="quiet" @click="setOther((lesson.or_else ?? []).length, [])">
        {{ t('editor.addOrElse') }}
      </button>
    </p>
    <span class="label">{{ t('editor.level') }}</span>
    <ChooseOne
      :value="lesson.level ?? ''"
      :entries="levels"
      :label="t('editor.level')"
      :none="t('editor.anyLevel')"
      @choose="(level) => emit('change', { level: level as Lesson['level'] })"
    />
    <label class="closed">
      <input
        type="checkbox"
        :checked="lesson.closed_book"
        @change="emit('change', { closed_book: ($event.target as HTMLInputElement).checked })"
      />
      {{ t('editor.closedBook') }}
    </label>
    <p class="small soft">{{ t('editor.closedBookMeans') }}</p>
    <label class="label" for="lesson-cautions">{{ t('editor.cautions') }}</label>
    <textarea
      id="lesson-cautions"
      rows="4"
      :value="(lesson.cautions ?? []).join('\n')"
      @change="
        emit('change', {
          cautions: value($event)
            .split('\n')
            .map((line) => line.trim())
            .filter(Boolean),
        })
      "
    ></textarea>
  </div>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.form > .label {
  margin-top: var(--space-2);
}
.form > input,
.form > select,
textarea,
.two select {
  width: 100%;
}
.closed {
  display: flex;
  gap: var(--space-2);
  align-items: baseline;
  margin-top: var(--space-2);
}
.closed input {
  accent-color: var(--accent);
}
textarea {
  resize: vertical;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--space-2);
  margin-top: var(--space-2);
}
p {
  margin: 2px 0 0;
}
.or-else {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.quiet {
  border: 1px solid var(--edge);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  padding: 1px 8px;
  font-size: 12px;
}
</style>
