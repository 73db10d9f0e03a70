<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import type { Tips } from '@/features/bench/live/desk'
import type { Wire } from '@/features/bench/live/line'

/** The circuit of a sensor as the thread is drawn: each wire a line, its joints as knots with their volts. */
const props = defineProps<{ wire: string; ask: (wire: string) => Promise<Wire[]>; isOff: boolean }>()
const emit = defineEmits<{ probe: [tips: Tips] }>()
const { t, te } = useI18n()
const wires = ref<Wire[]>([])
/** The lead in the hand, and where both are. */
const lead = ref<'red' | 'black'>('red')
const tips = ref<Tips>({})

function put(joint: string) {
  tips.value = { ...tips.value, [lead.value]: joint }
  emit('probe', tips.value)
}
const EVERY = 1000
let timer: number | undefined

async function look() {
  try {
    wires.value = await props.ask(props.wire)
  } catch {
    // The line is away; it comes back by itself, and is asked again.
  }
}
watch(
  () => props.wire,
  () => {
    wires.value = []
    look()
  },
  { immediate: true },
)
timer = window.setInterval(look, EVERY)
onBeforeUnmount(() => window.clearInterval(timer))

/** A joint by the part of its name that tells it apart on this wire. */
function called(name: string): string {
  const [owner, part] = name.includes('.') ? name.split('.') : ['', name]
  if (part === 'cell' || part === 'output') return t('live.circuit.sensor')
  const where = owner === 'unit' ? t('live.circuit.unit') : owner ? t('live.circuit.plug') : (part ?? '')
  return owner === 'unit' && part && !part.startsWith(props.wire) ? `${where} ${part}` : where
}

/** Between the plug and what hangs on it there is a gap while the plug is off. */
function isPlug(name: string): boolean {
  return name.startsWith(`${props.wire}.`)
}
/** Inside a sensor no tip can be put. */
function isInside(name: string): boolean {
  return /\.(cell|output)$/.test(name)
}
function role(name: string): string {
  return te(`live.circuit.role.${name}`) ? t(`live.circuit.role.${name}`) : name
}
</script>

<template>
  <div v-if="wires.length" class="circuit small" :aria-label="t('live.circuit.title')">
    <div v-for="entry in wires" :key="entry.role" class="wire">
      <span class="role soft">{{ role(entry.role) }}</span>
      <ol>
        <li
          v-for="joint in entry.joints"
          :key="joint.name"
          :class="{ gap: isOff && isPlug(joint.name) }"
          :title="joint.label"
        >
          <span class="volts">{{ joint.volts?.toFixed(2).replace('-', '\u2212') ?? '' }}</span>
          <i v-if="isInside(joint.name)" aria-hidden="true"></i>
          <button
            v-else
            type="button"
            class="joint"
            :class="{ red: tips.red === joint.name, black: tips.black === joint.name }"
            :aria-label="t(`live.circuit.put.${lead}`, { pin: joint.label })"
            @click="put(joint.name)"
          ></button>
          <span class="narrow soft">{{ called(joint.name) }}</span>
        </li>
      </ol>
    </div>
    <ChoiceRow
      :label="t('live.circuit.lead')"
      :value="lead"
      :choices="[
        { id: 'red', label: t('live.circuit.red') },
        { id: 'black', label: t('live.circuit.black') },
      ]"
      @choose="(id) => (lead = id as 'red' | 'black')"
    />
    <p class="soft note">{{ t('live.circuit.means') }}</p>
  </div>
</template>

<style scoped>
.circuit {
  border-top: 1px solid var(--rule);
  padding-top: 6px;
  margin: var(--space-2) 0;
}
.wire {
  display: flex;
  gap: 6px;
  align-items: baseline;
}
.role {
  flex: 0 0 44px;
}
ol {
  flex: 1;
  display: flex;
  list-style: none;
  margin: 0 0 4px;
  padding: 0;
}
li {
  position: relative;
  flex: 1;
  display: flex;
  flex-direction: column;
  align-items: center;
  min-width: 0;
  text-align: center;
  line-height: 1.25;
}
li::before {
  content: '';
  position: absolute;
  top: 21px;
  left: -50%;
  width: 100%;
  border-top: 2px solid var(--accent);
  pointer-events: none;
}
li:first-child::before {
  display: none;
}
li.gap::before {
  border-top: 2px dotted var(--rule);
}
.volts {
  font-weight: 600;
}
i,
.joint {
  position: relative;
  box-sizing: border-box;
  width: 9px;
  height: 9px;
  border: 2px solid var(--accent);
  border-radius: 50%;
  background: var(--surface);
  margin: 1px 0;
  padding: 0;
}
.joint {
  width: 13px;
  height: 13px;
  margin: -1px 0;
  cursor: pointer;
  z-index: 1;
}
/* A finger needs more room than the knot is wide. */
.joint::before {
  content: '';
  position: absolute;
  inset: -9px;
}
.joint.red,
.joint.black {
  border-color: var(--text);
  background: var(--text);
  color: var(--surface);
  font-size: 11px;
  line-height: 8px;
  font-weight: 700;
}
.joint.red {
  border-color: var(--accent);
  background: var(--accent);
}
.joint.red::after {
  content: '+';
}
.joint.black::after {
  content: '−';
}
.gap i,
.gap .joint {
  border-style: dotted;
}
.note {
  margin: 2px 0 0;
}
</style>
