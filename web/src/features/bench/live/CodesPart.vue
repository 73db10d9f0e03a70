<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { inOne, useTold } from '@/api/told'
import type { Codes, Doing } from '@/features/bench/live/line'

/** What the control unit has stored: codes as they are earned, with freeze frame; lamp and readiness. `fixed`: they are
 * not to be cleared. */
defineProps<{ codes: Codes; minding: string[]; fixed?: boolean }>()
const emit = defineEmits<{ act: [doing: Doing] }>()
const { t } = useI18n()
const { channels } = useCatalogue()
const { toldOf } = useTold()
const open = ref('')

function frame(values: Record<string, number>) {
  return Object.entries(values).map(([name, value]) => ({
    name: channels.value.get(name)?.label ?? name,
    text: inOne(toldOf(name, value)),
  }))
}
</script>

<template>
  <section>
    <h2>
      {{ t('live.codes') }}
      <span class="lamp small" :class="{ lit: codes.lamp }">{{ t(codes.lamp ? 'live.lampOn' : 'live.lampOff') }}</span>
    </h2>
    <p v-if="!codes.codes.length" class="soft small">{{ t('live.noCodes') }}</p>
    <ul v-else class="small" aria-live="polite">
      <li v-for="code in codes.codes" :key="code.code">
        <button type="button" :aria-expanded="open === code.code" @click="open = open === code.code ? '' : code.code">
          <b>{{ code.code }}</b> {{ t(`live.status.${code.status}`) }}
        </button>
        <span>{{ code.meaning }}</span>
        <dl v-if="open === code.code">
          <div v-for="row in frame(code.freeze_frame)" :key="row.name">
            <dt class="soft">{{ row.name }}</dt>
            <dd>{{ row.text }}</dd>
          </div>
        </dl>
      </li>
    </ul>
    <details class="small">
      <summary>{{ t('live.readiness') }}</summary>
      <p v-for="(state, system) in codes.readiness" :key="system" class="system">
        {{ system }}<span class="soft">{{ t(`live.ready.${state}`) }}</span>
      </p>
    </details>
    <button v-if="!fixed" type="button" class="clear" @click="emit('act', { do: 'clear_codes' })">
      {{ t('live.clear') }}
    </button>
    <p v-if="codes.codes.length && !fixed" class="small soft">{{ minding.join(' ') }}</p>
  </section>
</template>

<style scoped>
.lamp {
  margin-left: 8px;
  padding: 0 5px;
  border: 1px solid var(--rule);
  font-weight: 400;
}
.lamp.lit {
  border: 2px solid var(--suspect);
  font-weight: 600;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 3px 0;
}
li button {
  border: 0;
  background: none;
  padding: 0 6px 0 0;
  color: var(--text);
  cursor: pointer;
  text-decoration: underline dotted;
  text-underline-offset: 2px;
}
dl {
  margin: 3px 0;
}
dl div,
.system {
  display: flex;
  justify-content: space-between;
  margin: 0;
}
dd {
  margin: 0;
}
summary {
  cursor: pointer;
}
.clear {
  margin-top: 5px;
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  padding: 3px 9px;
  font-size: 13px;
  cursor: pointer;
}
</style>
