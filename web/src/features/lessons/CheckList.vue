<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Remedy, Warning } from '@/features/lessons/remedies'

/** What is unfair about the lesson, the chosen station first, each with what would answer it. */
const props = defineProps<{ warnings: Warning[]; station: string }>()
const emit = defineEmits<{ remedy: [station: string, remedy: Remedy]; pick: [station: string] }>()
const { t } = useI18n()
const groups = computed(() => {
  const here = props.warnings.filter((w) => w.station === props.station)
  const others = props.warnings.filter((w) => w.station !== props.station)
  return [
    { here: true, title: '', rows: here },
    { here: false, title: here.length ? t('editor.elsewhere') : '', rows: others },
  ].filter((group) => group.rows.length)
})
/** From afar only the best one: what else there is stands at the station. */
const offered = (warning: Warning, here: boolean) => (here ? warning.remedies : warning.remedies?.slice(0, 1))
</script>

<template>
  <template v-for="group in groups" :key="String(group.here)">
    <h3 v-if="group.title" class="label">{{ group.title }}</h3>
    <ul class="checks" :class="{ others: !group.here }">
      <li v-for="warning in group.rows" :key="warning.station + warning.code + warning.text">
        <p v-if="group.here">{{ warning.text }}</p>
        <button v-else type="button" class="link" @click="emit('pick', warning.station)">{{ warning.text }}</button>
        <button
          v-for="remedy in offered(warning, group.here)"
          :key="remedy.says"
          type="button"
          class="quiet"
          @click="emit('remedy', warning.station, remedy)"
        >
          {{ remedy.says }}
        </button>
      </li>
    </ul>
  </template>
</template>

<style scoped>
.checks {
  list-style: none;
  margin: 0 0 var(--space-2);
  padding: 0;
}
.checks li {
  border-left: 3px solid var(--suspect);
  padding: 0 0 2px var(--space-2);
  margin: var(--space-2) 0;
}
.checks p {
  margin: 0 0 3px;
}
.others li {
  border-left-color: var(--rule);
}
.quiet {
  border: 1px solid var(--edge);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  padding: 1px 8px;
  margin: 0 6px 3px 0;
  font-size: 12px;
  text-align: left;
}
.link {
  display: block;
  border: 0;
  background: none;
  padding: 0 0 3px;
  text-align: left;
  color: inherit;
  cursor: pointer;
  font: inherit;
}
.link:hover {
  text-decoration: underline;
}
</style>
