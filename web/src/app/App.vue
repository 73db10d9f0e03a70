<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router'
import { sentence } from '@/api/client'
import KeysHelp from '@/app/KeysHelp.vue'
import { look } from '@/app/look'
import SearchBox from '@/app/SearchBox.vue'
import WorkingStrip from '@/app/WorkingStrip.vue'
import { chooseUnits, hasBench, makesLessons, session, signOut, units, type UnitSystem } from '@/api/session'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const problem = ref('')
const inSchool = computed(() => String(route.name).startsWith('school'))
const inAtlas = computed(() => ['atlas', 'device', 'glossary'].includes(String(route.name)))
const wide = computed(() => ['bench', 'values', 'workings', 'drive', 'editor'].includes(String(route.name)))

async function leave() {
  try {
    await signOut()
    queries.clear()
    await router.push({ name: 'sign-in' })
  } catch (error) {
    problem.value = sentence(error)
  }
}

async function switchUnits(event: Event) {
  problem.value = ''
  try {
    await chooseUnits((event.target as HTMLSelectElement).value as UnitSystem)
  } catch (error) {
    problem.value = sentence(error)
  }
}
</script>

<template>
  <a class="visually-hidden" href="#content">{{ t('app.skip') }}</a>
  <header class="head app-head" :class="{ wide }">
    <RouterLink class="mark" :to="{ name: 'home' }">
      <svg width="58" height="20" viewBox="0 0 58 20" aria-hidden="true">
        <path d="M1 13h9c6 0 5-8 11-8s6 9 12 9 6-5 11-5h13" fill="none" stroke="var(--accent)" stroke-width="2" />
        <circle cx="21" cy="5" r="3.2" fill="var(--surface)" stroke="var(--accent)" stroke-width="2" />
        <circle cx="33" cy="14" r="3.2" fill="var(--accent)" />
      </svg>
      {{ t('app.name') }}
    </RouterLink>
    <nav v-if="session" class="nav">
      <RouterLink :to="{ name: 'home' }">{{ t('app.home') }}</RouterLink>
      <RouterLink :to="{ name: 'drills' }">{{ t('drills.title') }}</RouterLink>
      <RouterLink v-if="hasBench" :to="{ name: 'bench' }">{{ t('app.bench') }}</RouterLink>
      <RouterLink :class="{ 'router-link-exact-active': inAtlas }" :to="{ name: 'atlas' }">{{
        t('app.atlas')
      }}</RouterLink>
      <RouterLink v-if="hasBench" :to="{ name: 'values' }">{{ t('app.values') }}</RouterLink>
      <RouterLink v-if="makesLessons" :to="{ name: 'signatures' }">{{ t('app.signatures') }}</RouterLink>
      <RouterLink :to="{ name: 'workings' }">{{ t('app.workings') }}</RouterLink>
      <RouterLink v-if="makesLessons" :to="{ name: 'drive' }">{{ t('app.drive') }}</RouterLink>
      <RouterLink v-if="makesLessons" :class="{ 'router-link-exact-active': inSchool }" :to="{ name: 'school' }">{{
        t('app.school')
      }}</RouterLink>
    </nav>
    <div v-if="session" class="who">
      <SearchBox />
      <label class="visually-hidden" for="units">{{ t('app.units') }}</label>
      <select id="units" :value="units" @change="switchUnits">
        <option value="metric">{{ t('app.metric') }}</option>
        <option value="imperial">{{ t('app.imperial') }}</option>
      </select>
      <RouterLink class="person" :to="{ name: 'account' }" :title="t('app.account')"
        >{{ session.name }}<span class="soft">, {{ t(`role.${session.role}`) }}</span></RouterLink
      >
      <button
        class="look"
        type="button"
        :aria-pressed="look === 'dark'"
        :title="t('app.dark')"
        :aria-label="t('app.dark')"
        @click="look = look === 'dark' ? 'light' : 'dark'"
      >
        <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
          <circle cx="7" cy="7" r="5.5" fill="none" stroke="currentColor" stroke-width="1.4" />
          <path d="M7 1.5a5.5 5.5 0 0 1 0 11Z" fill="currentColor" />
        </svg>
      </button>
      <KeysHelp />
      <button class="plain" type="button" @click="leave">{{ t('app.signOut') }}</button>
    </div>
  </header>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  <main id="content"><RouterView /></main>
  <WorkingStrip />
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: var(--space-4);
  height: 46px;
  max-width: 1240px;
  margin: 0 auto;
  padding: 0 var(--space-4);
}
.head.wide {
  max-width: none;
}
.mark {
  display: flex;
  align-items: center;
  gap: var(--space-2);
  color: var(--text);
  font-size: 17px;
  font-weight: 600;
  text-decoration: none;
}
.nav {
  display: flex;
  gap: 16px;
}
.nav a {
  white-space: nowrap;
  color: var(--text-soft);
  text-decoration: none;
  padding: 12px 0 10px;
  border-bottom: 2px solid transparent;
}
.nav a.router-link-exact-active {
  color: var(--text);
  border-bottom-color: var(--accent);
}
.who {
  display: flex;
  align-items: center;
  gap: var(--space-2);
  margin-left: auto;
}
.who select {
  max-width: 96px;
  border: 1px solid var(--rule);
  background: var(--surface);
  padding: 3px 6px;
  font-size: var(--text-small);
}
.person {
  margin-left: var(--space-3);
  color: var(--text);
  text-decoration: none;
}
.person:hover {
  text-decoration: underline;
}
.plain {
  white-space: nowrap;
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 4px;
}
.look {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 1px solid var(--rule);
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
.problem {
  background: var(--surface-strong);
  padding: var(--space-2) var(--space-4);
  margin: 0;
}
main {
  border-top: 1px solid var(--rule);
}
.person {
  white-space: nowrap;
}
@media (max-width: 900px) {
  .head {
    flex-wrap: wrap;
    height: auto;
    gap: 0 var(--space-3);
    padding: 6px var(--space-3) 0;
  }
  .nav {
    flex-wrap: wrap;
    gap: 0 var(--space-4);
  }
  .who {
    flex-wrap: wrap;
    margin-left: 0;
  }
  .who > .label,
  .person .soft {
    display: none;
  }
}
/* A narrow screen: who it is beside the name, then the places, then the tools, all close together. */
@media (max-width: 560px) {
  .head {
    padding-bottom: 6px;
  }
  .mark {
    flex: 1;
  }
  .who {
    display: contents;
  }
  .who > * {
    order: 2;
  }
  .who > .person,
  .who > .plain {
    order: 0;
    margin: 0;
  }
  .nav {
    order: 1;
    width: 100%;
  }
  .nav a {
    padding: 6px 0 4px;
  }
}
</style>
