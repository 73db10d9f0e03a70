<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { sentence } from '@/api/client'
import { pageOf, useAtlas } from '@/parts/atlas/pages'
import EngineSelect from '@/parts/choice/EngineSelect.vue'
import ThreadLine from '@/parts/thread/ThreadLine.vue'
import TermText from '@/parts/terms/TermText.vue'

/** The index of the atlas: the thread of an engine, and all pages by family; those that it has stand out. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { catalogue } = useCatalogue()
const { pages, error } = useAtlas()
const rigId = computed({
  get: () => (typeof route.query.rig === 'string' ? route.query.rig : 'R1'),
  set: (rig: string) => router.replace({ query: { rig } }),
})
const rig = computed(() => catalogue.value?.rigs.find((entry) => entry.id === rigId.value))
const families = computed(() => [...new Set(pages.value.map((page) => page.family))])
const here = (page: { rigs: string[] }) => page.rigs.includes(rigId.value)
const knots = computed(() =>
  (rig.value?.sensors ?? []).map((sensor) => ({
    id: sensor.id,
    label: sensor.term,
    sub: sensor.place,
    family: sensor.family,
    minor: !pageOf(pages.value, { knot: sensor.id }, rigId.value),
  })),
)
function pick(sensor: string) {
  const page = pageOf(pages.value, { knot: sensor }, rigId.value)
  if (page) router.push({ name: 'device', params: { id: page.id }, query: { rig: rigId.value } })
}
</script>

<template>
  <div class="page">
    <header class="top">
      <div>
        <h1>{{ t('atlas.title') }}</h1>
        <p class="soft">{{ t('atlas.lead') }}</p>
      </div>
      <div class="engine">
        <span class="label">{{ t('atlas.onEngine') }}</span>
        <EngineSelect :value="rigId" @choose="(next) => (rigId = next)" />
        <RouterLink class="small" :to="{ name: 'glossary' }">{{ t('atlas.glossary') }}</RouterLink>
      </div>
    </header>
    <ThreadLine v-if="knots.length" :knots="knots" :label="t('atlas.where')" compact @pick="pick" />
    <p v-if="error" role="alert">{{ sentence(error) }}</p>
    <section v-for="family in families" :key="family" :style="{ '--family': `var(--${family})` }">
      <h2>{{ t(`family.${family}`) }}</h2>
      <ul>
        <li
          v-for="page in pages.filter((entry) => entry.family === family)"
          :key="page.id"
          :class="{ absent: !here(page) }"
        >
          <RouterLink
            :to="{ name: 'device', params: { id: page.id }, query: { rig: here(page) ? rigId : page.rigs[0] } }"
            >{{ page.title }}</RouterLink
          >
          <span v-if="!here(page)" class="small soft">{{ t('atlas.notHere') }}</span>
          <p class="small"><TermText :text="page.summary" /></p>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-5);
  align-items: flex-start;
  margin-bottom: var(--space-3);
}
.top > div:first-child {
  flex: 1 1 420px;
}
.engine {
  flex: 0 1 260px;
}
.engine > * {
  display: block;
  margin-bottom: 3px;
}
section h2 {
  color: var(--family);
  border-bottom: 1px solid var(--rule);
  padding-bottom: 3px;
  margin: var(--space-4) 0 var(--space-2);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 320px), 1fr));
  gap: var(--space-2) var(--space-4);
}
li {
  border-left: 3px solid var(--family);
  padding-left: var(--space-2);
}
li a {
  color: var(--text);
  font-weight: 600;
  text-decoration: none;
  margin-right: var(--space-2);
}
li a:hover {
  text-decoration: underline;
}
li p {
  margin: 2px 0 0;
}
li > span {
  display: block;
}
section h2::first-letter {
  text-transform: uppercase;
}
.absent {
  border-left-style: dotted;
}
.absent a {
  font-weight: 400;
}
</style>
