<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'

/** The wires of a sound device: joint after joint, in the four states in which a meter is put on. */
const props = defineProps<{ rig: string; wire: string }>()
const { t, te } = useI18n()
const query = useQuery({
  queryKey: ['atlas circuit', computed(() => props.rig), computed(() => props.wire)],
  queryFn: () =>
    unwrap(
      client.GET('/api/atlas/circuits/{wire}', { params: { path: { wire: props.wire }, query: { rig: props.rig } } }),
    ),
  staleTime: Infinity,
  retry: false,
})
const state = ref('key_on')
const states = computed(() => query.data.value ?? [])
const shown = computed(() => states.value.find((entry) => entry.id === state.value))

/** A joint by the part of its name that tells it apart on this wire. */
function called(name: string): string {
  const [owner, part] = name.includes('.') ? name.split('.') : ['', name]
  if (part === 'cell' || part === 'output') return t('live.circuit.sensor')
  return owner === 'unit' ? t('live.circuit.unit') : owner ? t('live.circuit.plug') : (part ?? '')
}
const isPlug = (name: string) => name.startsWith(`${props.wire}.`)
const role = (name: string) => (te(`live.circuit.role.${name}`) ? t(`live.circuit.role.${name}`) : name)
</script>

<template>
  <div class="circuit">
    <p v-if="query.error.value" role="alert">{{ sentence(query.error.value) }}</p>
    <p v-else-if="!states.length" class="soft" role="status">{{ t('atlas.loading') }}</p>
    <template v-else>
      <div class="buttons" role="group" :aria-label="t('atlas.circuit')">
        <button
          v-for="entry in states"
          :key="entry.id"
          type="button"
          :aria-pressed="entry.id === state"
          @click="state = entry.id"
        >
          {{ entry.label }}
        </button>
      </div>
      <div v-for="entry in shown?.wires" :key="entry.role" class="wire">
        <span class="role soft small">{{ role(entry.role) }}</span>
        <ol>
          <li
            v-for="joint in entry.joints"
            :key="joint.name"
            :class="{ gap: shown?.plug_off && isPlug(joint.name) }"
            :title="joint.label"
          >
            <b>{{ joint.volts.toFixed(2).replace('-', '\u2212') }} V</b>
            <i aria-hidden="true"></i>
            <span class="small soft narrow">{{ called(joint.name) }}</span>
          </li>
        </ol>
      </div>
    </template>
  </div>
</template>

<style scoped>
.circuit {
  max-width: 760px;
  margin-bottom: var(--space-3);
}
.wire {
  display: flex;
  align-items: center;
  gap: var(--space-3);
  margin: var(--space-2) 0;
}
.role {
  flex: 0 0 64px;
}
ol {
  flex: 1;
  display: flex;
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  position: relative;
  flex: 1;
  text-align: center;
  font-size: 13px;
}
li b,
li span {
  display: block;
}
li i {
  display: block;
  width: 10px;
  height: 10px;
  margin: 3px auto;
  border: 2px solid var(--accent);
  border-radius: 50%;
  background: var(--surface);
  position: relative;
  z-index: 1;
}
li + li::before {
  content: '';
  position: absolute;
  top: calc(50% - 1px);
  right: 50%;
  width: 100%;
  border-top: 2px solid var(--accent);
}
li.gap + li::before,
li.gap::before {
  border-top-style: dotted;
  opacity: 0.4;
}
</style>
