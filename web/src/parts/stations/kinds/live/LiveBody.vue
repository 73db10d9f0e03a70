<script setup lang="ts">
import { computed, inject, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { sentence, type Schemas } from '@/api/client'
import ProseText from '@/parts/prose/ProseText.vue'
import { ENGINE } from '@/parts/stations/engine'
import type { BodyProps } from '@/parts/stations/kind'
import BringBack from './BringBack.vue'
import { inside } from '@/parts/prose/inside'

/** What may be touched, the way to the running engine, and what is brought back from it. */
const props = defineProps<BodyProps<'live'>>()
const emit = defineEmits<{ change: [answer: Schemas['LiveAnswer']] }>()
const { t } = useI18n()

const door = inject(ENGINE, undefined)
const bench = ref<Schemas['BenchRow']>()
const problem = ref('')
const opening = ref(false)
const back = ref<HTMLButtonElement>()

async function go(anew = false) {
  if (!door || opening.value) return
  opening.value = true
  problem.value = ''
  try {
    bench.value = await door.open(props.view.index, anew)
    await nextTick()
    back.value?.focus()
  } catch (error) {
    problem.value = sentence(error)
  } finally {
    opening.value = false
  }
}

/** The page beneath neither scrolls meanwhile nor can be reached by keyboard or screen reader. */
function cover(open: boolean) {
  document.documentElement.classList.toggle('at-engine', open)
  document.getElementById('app')?.toggleAttribute('inert', open)
}
watch(bench, (open) => cover(open !== undefined))
onBeforeUnmount(() => cover(false))

const hands = computed(() => props.view.hands.map((hand) => t(`stations.live.hand_${hand}`)).join(', '))
</script>

<template>
  <ul class="may">
    <li>{{ hands ? t('stations.live.touch', { list: hands }) : t('stations.live.touchNothing') }}</li>
    <li>
      {{
        view.instruments.length
          ? t('stations.live.lying', { list: view.instruments.map(inside).join(', ') })
          : t('stations.live.lyingNothing')
      }}
    </li>
  </ul>
  <p v-if="door" class="ways">
    <ElButton type="primary" :disabled="disabled" :loading="opening" @click="go()">{{
      t('stations.live.go')
    }}</ElButton>
    <button
      type="button"
      class="tool"
      :disabled="disabled || opening"
      :title="t('stations.live.anewMeans')"
      @click="go(true)"
    >
      {{ t('stations.live.anew') }}
    </button>
    <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
  </p>
  <p v-else class="small soft">{{ t('stations.live.onlyOpen') }}</p>
  <BringBack :view="view" :answer="answer" :name="name" :disabled="disabled" @change="(next) => emit('change', next)" />
  <Teleport to="body">
    <section v-if="bench && door" class="engine" :aria-label="view.title">
      <div class="strip">
        <div class="told">
          <button ref="back" type="button" class="tool" @click="bench = undefined">
            {{ t('stations.live.back') }}
          </button>
          <h2>{{ view.title }}</h2>
        </div>
        <details class="task" open>
          <summary>{{ t('stations.live.task') }}</summary>
          <ProseText v-if="view.text" :text="view.text" />
          <BringBack
            narrow
            :view="view"
            :answer="answer"
            :name="`${name}-engine`"
            :disabled="disabled"
            @change="(next) => emit('change', next)"
          />
        </details>
      </div>
      <component :is="door.view" :key="bench.id" :bench="bench" :benches="[]" :begin="view.channels" />
    </section>
  </Teleport>
</template>

<style scoped>
.may {
  margin: 0;
  padding-left: 1.2em;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  align-items: center;
  margin: 0;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.engine {
  position: fixed;
  inset: 0;
  z-index: 20;
  background: var(--surface);
  overflow-y: auto;
}
.strip {
  padding: var(--space-2) var(--space-4);
  border-bottom: 1px solid var(--rule);
  background: var(--surface-sunk);
}
.told {
  display: flex;
  align-items: baseline;
  gap: var(--space-3);
}
.told h2 {
  margin: 0;
  font-size: 17px;
}
.task > summary {
  cursor: pointer;
  margin-top: 4px;
}
</style>
<style>
html.at-engine {
  overflow: hidden;
}
</style>
