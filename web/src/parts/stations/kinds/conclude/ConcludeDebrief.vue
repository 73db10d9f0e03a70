<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'

/** All causes: the one that was chosen, the one that was built in, and what speaks against the others. */
defineProps<{ parts: Schemas['MarkedConclude']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <table class="plain stacks">
    <tbody>
      <tr v-for="part in parts" :key="part.id" :class="{ off: part.given && !part.points }">
        <td class="chosen">{{ part.given ? t('stations.conclude.chosen') : '' }}</td>
        <td class="what">
          <div>
            <b>{{ part.label }}</b>
            <template v-if="part.true_cause"
              ><br /><span class="truth">{{ t('stations.conclude.trueCause') }}</span></template
            >
          </div>
        </td>
        <td class="why">{{ part.reason }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.chosen {
  width: 70px;
  color: var(--accent);
  font-weight: 600;
}
.truth {
  color: var(--accent);
}
</style>
