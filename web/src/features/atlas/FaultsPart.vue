<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import { hasBench, makesLessons } from '@/api/session'
import SignatureTable from '@/features/signatures/SignatureTable.vue'
import FaultPlate from '@/features/atlas/FaultPlate.vue'
import TermText from '@/parts/terms/TermText.vue'

/** The ways in which a device fails, each to be opened: plate, what happens, what it shows, proof, repair. */
defineProps<{ faults: Schemas['FailureOut'][]; rig: string }>()
const { t } = useI18n()
const open = ref('')
</script>

<template>
  <ul>
    <li v-for="fault in faults" :key="fault.kind">
      <button
        type="button"
        class="head"
        :aria-expanded="open === fault.kind"
        @click="open = open === fault.kind ? '' : fault.kind"
      >
        <span class="mark" aria-hidden="true">{{ open === fault.kind ? '−' : '+' }}</span>
        <b>{{ fault.label }}</b>
        <span class="soft small">{{ fault.words.replace(fault.label, '').replace(/^ \((.*)\)$/, '$1') }}</span>
      </button>
      <div v-if="open === fault.kind" class="body">
        <FaultPlate :plates="fault.plates" />
        <dl>
          <dt>{{ t('atlas.meaning') }}</dt>
          <dd><TermText :text="fault.meaning" /></dd>
          <template v-if="fault.look">
            <dt>{{ t('atlas.look') }}</dt>
            <dd>{{ fault.look }}</dd>
          </template>
          <template v-if="fault.proof">
            <dt>{{ t('atlas.proof') }}</dt>
            <dd>{{ fault.proof }}</dd>
          </template>
          <dt>{{ t('atlas.repair') }}</dt>
          <dd>{{ fault.repair }}</dd>
        </dl>
        <template v-if="hasBench">
          <h3>{{ t('atlas.shows') }}</h3>
          <SignatureTable :rig="rig" :faults="[fault.example]" :most="6" />
          <RouterLink
            v-if="makesLessons"
            class="small"
            :to="{ name: 'signatures', query: { rig, fault: JSON.stringify(fault.example) } }"
            >{{ t('atlas.seeMore') }}</RouterLink
          >
        </template>
      </div>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--rule);
}
.head {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 2px var(--space-2);
  width: 100%;
  border: 0;
  background: none;
  color: var(--text);
  font-size: 14px;
  padding: 7px 0;
  text-align: left;
  cursor: pointer;
}
.mark {
  width: 14px;
  color: var(--accent);
  font-weight: 600;
}
.body {
  padding: 0 0 var(--space-3) 22px;
}
dl {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr);
  gap: 2px var(--space-3);
  margin: 0 0 var(--space-3);
  max-width: 90ch;
}
dt {
  color: var(--text-soft);
  font-size: var(--text-small);
  padding-top: 2px;
}
dd {
  margin: 0;
}
dd::first-letter {
  text-transform: uppercase;
}
@media (max-width: 600px) {
  dl {
    grid-template-columns: 1fr;
  }
}
</style>
