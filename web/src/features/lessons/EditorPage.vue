<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import 'element-plus/es/components/message/style/css'
import { ElMessage } from 'element-plus'
import { computed, defineAsyncComponent, provide, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useArranging } from '@/features/lessons/arranging'
import CheckList from '@/features/lessons/CheckList.vue'
import ClashList from '@/features/lessons/ClashList.vue'
import { copy } from '@/features/lessons/clipboard'
import { useDraft } from '@/features/lessons/draft'
import DifficultyPanel from '@/features/lessons/DifficultyPanel.vue'
import KeyList from '@/features/lessons/KeyList.vue'
import LessonForm from '@/features/lessons/LessonForm.vue'
import OverrulePanel from '@/features/lessons/OverrulePanel.vue'
import PublishDialog from '@/features/lessons/PublishDialog.vue'
import { usePreview } from '@/features/lessons/preview'
import StationForm from '@/features/lessons/StationForm.vue'
import StationComments from '@/features/lessons/StationComments.vue'
import TakeAlong from '@/features/lessons/TakeAlong.vue'
import StationThread from '@/features/lessons/StationThread.vue'
import { useKeys } from '@/parts/controls/keys'
import { ENGINE } from '@/parts/stations/engine'
import StationBody from '@/parts/stations/StationBody.vue'

/** The editor: the lesson as a thread on the left, the chosen part in the middle, on the right what the learner sees and the key. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const { catalogue } = useCatalogue()
const { document, published, state, problem, clashes, joined, restored, save, settle, history } = useDraft(props.id)

const { selected, station, changeLesson, changeStation, place, remove, remedy, pick, add, paste } = useArranging(
  document,
  catalogue,
)
const seed = ref(0)
const { wish, view, lanes, tried, key, rulings, running, refusal, warnings, checking } = usePreview(
  document,
  selected,
  seed,
)
const publishing = ref(false)

useKeys(() => ({ 'ctrl+z': history.undo, 'ctrl+shift+z': history.redo }))

function copyStation(index: number) {
  const station = document.value?.stations[index]
  if (!station) return
  copy(station)
  ElMessage({ type: 'success', message: t('editor.copied', { title: station.title }) })
}

const comments = useQuery({
  queryKey: ['comments', Number(props.id)],
  queryFn: () =>
    unwrap(client.GET('/api/lessons/{lesson_id}/comments', { params: { path: { lesson_id: Number(props.id) } } })),
})
const commented = computed(() => (comments.data.value ?? []).filter((c) => !c.settled).map((c) => c.station))

/** The running engine of a station, as a learner with that seed gets it. It is for trying: nothing of it is kept. */
provide(ENGINE, {
  open: () => unwrap(client.POST('/api/preview/bench', { body: wish.value })),
  view: defineAsyncComponent(() => import('@/features/bench/live/RunningBench.vue')),
})

async function askToPublish() {
  await save()
  if (state.value === 'saved') publishing.value = true
}

async function onPublished(version: Schemas['VersionOut']) {
  publishing.value = false
  published.value = { version: version.number, changed: false }
  ElMessage({
    type: 'success',
    message: t('editor.published', { n: version.number, count: version.assigned }, version.assigned),
    duration: 6000,
  })
}
</script>

<template>
  <p v-if="!document" class="page" :role="problem ? 'alert' : undefined">{{ problem || t('app.loading') }}</p>
  <div v-else class="editor">
    <aside class="left">
      <StationThread
        :stations="document.stations"
        :selected="selected"
        :warned="warnings.map((w) => w.station)"
        :commented="commented"
        @pick="(k) => (selected = k)"
        @place="place"
        @remove="remove"
        @copy="copyStation"
        @paste="paste"
        @add="add"
      />
    </aside>
    <section class="middle">
      <LessonForm v-if="selected < 0" :lesson="document" @change="changeLesson" />
      <StationForm
        v-else-if="station"
        :key="station.id"
        :station="station"
        :lesson="document"
        @change="changeStation"
      />
      <TakeAlong v-if="selected < 0" :lesson="Number(id)" :seed="seed" />
      <StationComments :lesson="Number(id)" :station="station?.id ?? ''" />
    </section>
    <section class="right">
      <div class="bar">
        <span class="state" :class="state" role="status">{{ t(`editor.${state}`) }}</span>
        <span class="steps">
          <button
            type="button"
            :disabled="!history.canUndo.value"
            :title="t('editor.undo')"
            :aria-label="t('editor.undo')"
            @click="history.undo"
          >
            ↶
          </button>
          <button
            type="button"
            :disabled="!history.canRedo.value"
            :title="t('editor.redo')"
            :aria-label="t('editor.redo')"
            @click="history.redo"
          >
            ↷
          </button>
        </span>
        <span class="soft small">{{
          published.version
            ? t(published.changed ? 'editor.versionChanged' : 'editor.versionSame', { n: published.version })
            : t('home.notPublished')
        }}</span>
        <RouterLink v-if="published.version" :to="{ name: 'versions', params: { id } }">{{
          t('versions.title')
        }}</RouterLink>
        <RouterLink :to="{ name: 'results', params: { id } }">{{ t('home.results') }}</RouterLink>
        <ElButton type="primary" :disabled="state === 'saving' || !published.changed" @click="askToPublish">{{
          t('editor.publish')
        }}</ElButton>
      </div>
      <p v-if="problem" class="problem" role="alert">
        {{ problem }}
      </p>
      <ClashList v-if="clashes.length" :clashes="clashes" :who="joined" @settle="settle" />
      <p v-else-if="joined" class="problem" role="status">{{ t('editor.joined', { who: joined }) }}</p>
      <p v-if="restored" class="problem">{{ t('editor.restored') }}</p>
      <div class="seen-head">
        <h2>{{ t('editor.seen') }}</h2>
        <span class="label">{{ t('editor.seed') }}</span>
        <button type="button" class="seed" :class="{ on: seed === 0 }" @click="seed = 0">
          {{ t('editor.trainerCar') }}
        </button>
        <button type="button" class="seed" :class="{ on: seed !== 0 }" @click="seed = (seed % 9) + 1">
          {{ seed ? t('editor.learnerCar', { n: seed }) : t('editor.otherCar') }}
        </button>
      </div>
      <p v-if="refusal && refusal !== problem" class="problem" role="alert">{{ refusal }}</p>
      <div v-if="view && tried" class="sheet" :class="{ busy: running }">
        <h3 class="station-title">{{ view.title }}</h3>
        <StationBody
          :station="view"
          :lanes="lanes"
          :answer="tried"
          :rig="document.rig"
          name="preview"
          @change="(next) => (tried = next)"
        />
      </div>
      <p v-else-if="running" class="soft waiting">{{ t('editor.running') }}</p>
      <div class="key-part">
        <h2>{{ t('editor.key') }}</h2>
        <p v-if="running" class="soft">{{ t('editor.computing') }}</p>
        <KeyList v-else-if="key" :found="key" />
        <OverrulePanel
          v-if="station && view && view.id === station.id && rulings.length"
          :rulings="rulings"
          :station="station"
          @change="(overrides) => station && changeStation({ ...station, overrides })"
        />
      </div>
      <div class="fair">
        <h2>{{ t('editor.warnings') }}</h2>
        <p v-if="checking" class="soft">{{ t('editor.checking') }}</p>
        <p v-else-if="!warnings.length" class="soft">{{ t('editor.noWarnings') }}</p>
        <CheckList v-else :warnings="warnings" :station="station?.id ?? ''" @remedy="remedy" @pick="pick" />
      </div>
      <DifficultyPanel
        v-if="selected >= 0"
        :lesson="document"
        :index="selected"
        @remedy="(made) => station && remedy(station.id, made)"
      />
    </section>
    <PublishDialog
      :open="publishing"
      :lesson="Number(id)"
      :warnings="warnings"
      @close="publishing = false"
      @published="onPublished"
    />
  </div>
</template>

<style scoped>
.waiting {
  min-height: 200px;
}
.editor {
  display: grid;
  grid-template-columns: 206px 366px minmax(0, 1fr);
  height: calc(100vh - 47px);
}
.left,
.middle,
.right {
  overflow-y: auto;
  padding: var(--space-3);
}
.left {
  padding-left: var(--space-4);
  background: var(--surface-sunk);
}
.middle {
  border-left: 1px solid var(--rule);
  border-right: 1px solid var(--rule);
}
.right {
  padding: var(--space-3) var(--space-4) var(--space-5);
}
.bar {
  display: flex;
  align-items: center;
  gap: var(--space-3);
}
.bar .el-button {
  margin-left: auto;
}
.steps button {
  border: 1px solid var(--rule);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  padding: 0 7px;
  margin-right: 2px;
}
.steps button:disabled {
  color: var(--edge);
  cursor: default;
}
.state.unsaved {
  color: var(--suspect);
  font-weight: 600;
}
.problem {
  border-left: 3px solid var(--accent);
  padding: 2px 0 2px var(--space-2);
  margin: var(--space-2) 0;
}
.seen-head {
  display: flex;
  align-items: baseline;
  gap: var(--space-2);
  margin-top: var(--space-2);
}
.seen-head h2 {
  margin: 0 auto 0 0;
}
.seed {
  border: 1px solid var(--rule);
  background: none;
  color: var(--text-soft);
  cursor: pointer;
  padding: 1px 8px;
  font-size: 12px;
}
.seed.on {
  border-color: var(--text);
  color: var(--text);
}
.sheet {
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
.sheet.busy {
  cursor: progress;
}
.station-title {
  font-size: var(--text-lead);
  margin-bottom: var(--space-2);
}
.key-part,
.fair {
  margin-top: var(--space-4);
}
.key-part h2,
.fair h2 {
  border-bottom: 1px solid var(--text);
  padding-bottom: 2px;
}
@media (max-width: 1000px) {
  .editor {
    grid-template-columns: 190px minmax(0, 1fr);
    height: auto;
  }
  .right {
    grid-column: 1 / -1;
  }
}
@media (max-width: 640px) {
  .editor {
    grid-template-columns: minmax(0, 1fr);
  }
  .left,
  .middle,
  .right {
    padding: var(--space-3);
    border: 0;
  }
  .bar,
  .seen-head {
    flex-wrap: wrap;
  }
}
</style>
