<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'

type Aim = Schemas['AimOut']

/** What learners can do after a lesson, by family, found by words and level. */
const props = defineProps<{ aims: Aim[]; chosen: string }>()
const emit = defineEmits<{ choose: [aim: Aim] }>()
const { t } = useI18n()
const words = ref('')
const level = ref('')
const LEVELS = ['start', 'journeyman', 'expert']

const found = computed(() => {
  const wanted = words.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.aims.filter((aim) => {
    const text = `${aim.title} ${aim.can} ${aim.rigs.map((rig) => rig.name).join(' ')}`.toLowerCase()
    return (!level.value || aim.level === level.value) && wanted.every((word) => text.includes(word))
  })
})
const families = computed(() => [...new Set(found.value.map((aim) => aim.family))])
</script>

<template>
  <div class="finding">
    <ElInput v-model="words" clearable :placeholder="t('plan.find')" :aria-label="t('plan.find')" />
    <select v-model="level" :aria-label="t('propose.level')">
      <option value="">{{ t('plan.anyLevel') }}</option>
      <option v-for="id in LEVELS" :key="id" :value="id">{{ t(`propose.levels.${id}`) }}</option>
    </select>
  </div>
  <p class="small soft" role="status">{{ t('plan.count', { n: found.length, all: aims.length }) }}</p>
  <section v-for="family in families" :key="family" :aria-label="t(`plan.family.${family}`)">
    <h2>{{ t(`plan.family.${family}`) }}</h2>
    <button
      v-for="aim in found.filter((entry) => entry.family === family)"
      :key="aim.id"
      type="button"
      :aria-pressed="aim.id === chosen"
      :class="{ on: aim.id === chosen }"
      @click="emit('choose', aim)"
    >
      <span class="title">{{ aim.title }}</span>
      <span class="small soft">{{ t(`propose.levels.${aim.level}`) }} · {{ t('editor.min', { n: aim.minutes }) }}</span>
      <span class="small can">{{ aim.can }}</span>
    </button>
  </section>
</template>

<style scoped>
.finding {
  display: flex;
  gap: var(--space-2);
}
h2 {
  border-bottom: 1px solid var(--text);
  padding-bottom: 2px;
  margin: var(--space-3) 0 0;
}
section button {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 var(--space-3);
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: none;
  color: var(--text);
  text-align: left;
  padding: 7px 8px;
  cursor: pointer;
}
section button:hover {
  background: var(--surface-sunk);
}
section button.on {
  background: var(--surface-strong);
  box-shadow: inset 3px 0 0 var(--accent);
}
.title {
  font-weight: 600;
}
.can {
  grid-column: 1 / -1;
  color: var(--text-soft);
}
</style>
