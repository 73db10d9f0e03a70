<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useChanging } from '@/api/changing'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { isLead } from '@/api/session'
import { dayAndTime } from '@/format/dates'
import BenchSwitch from '@/features/school/BenchSwitch.vue'

/** The school's limits: where schools differ, the lead decides; every change is a version that verdicts keep naming. */
const { t, locale } = useI18n()
const { change, problem, done, busy } = useChanging('rules')
const rules = useQuery({ queryKey: ['rules'], queryFn: () => unwrap(client.GET('/api/rules')), staleTime: 0 })
const present = computed(() => rules.data.value?.versions[0])
const values = ref<Record<string, number>>({})
const note = ref('')
watch(present, (version) => (values.value = { ...version?.values }), { immediate: true })
const changed = computed(() =>
  Object.entries(values.value).some(([name, value]) => value !== present.value?.values[name]),
)

/** Limits by what uses them, in the order in which they come. */
const groups = computed(() => {
  const found = new Map<string, Schemas['RuleOut'][]>()
  for (const rule of rules.data.value?.rules ?? []) found.set(rule.used_by, [...(found.get(rule.used_by) ?? []), rule])
  return [...found]
})

function label(id: string): string {
  return rules.data.value?.rules.find((rule) => rule.id === id)?.label ?? id
}

/** What a version changed against the one before it, in words. */
function differences(index: number): string {
  const versions = rules.data.value?.versions ?? []
  const [now, before] = [versions[index], versions[index + 1]]
  if (!now || !before) return t('school.rules.first')
  return Object.keys(now.values)
    .filter((name) => now.values[name] !== before.values[name])
    .map((name) => `${label(name)}: ${before.values[name]} → ${now.values[name]}`)
    .join('; ')
}

const save = () =>
  change(async () => {
    if (!present.value) return
    const kept = await unwrap(
      client.PUT('/api/rules', { body: { number: present.value.number, values: values.value, note: note.value } }),
    )
    note.value = ''
    return t('school.rules.saved', { n: kept.number })
  })
</script>

<template>
  <BenchSwitch />
  <p v-if="rules.error.value" role="alert">{{ sentence(rules.error.value) }}</p>
  <form v-if="rules.data.value && present" @submit.prevent="save">
    <p class="lead">{{ t(isLead ? 'school.rules.lead' : 'school.rules.leadRead') }}</p>
    <table class="plain rules stacks">
      <thead>
        <tr>
          <th>{{ t('school.rules.rule') }}</th>
          <th class="number">{{ t('school.rules.value') }}</th>
          <th>{{ t('school.rules.allowed') }}</th>
          <th>{{ t('school.rules.why') }}</th>
        </tr>
      </thead>
      <tbody v-for="[use, members] in groups" :key="use">
        <tr class="group">
          <th colspan="4" scope="rowgroup">{{ use }}</th>
        </tr>
        <tr v-for="rule in members" :key="rule.id">
          <td>
            <label :for="`rule-${rule.id}`">{{ rule.label }}</label>
          </td>
          <td class="number value" :data-label="t('school.rules.value')">
            <input
              v-if="isLead"
              :id="`rule-${rule.id}`"
              v-model.number="values[rule.id]"
              type="number"
              step="any"
              :min="rule.low"
              :max="rule.high"
            />
            <b v-else>{{ present.values[rule.id] }}</b>
            <span class="unit">{{ rule.unit }}</span>
          </td>
          <td class="soft allowed">
            {{ t('school.rules.range', { low: rule.low, high: rule.high, usual: rule.usual }) }}
          </td>
          <td class="why">{{ rule.why }}</td>
        </tr>
      </tbody>
    </table>
    <div v-if="isLead" class="foot">
      <ElInput
        v-model="note"
        class="note"
        maxlength="300"
        :placeholder="t('school.rules.note')"
        :aria-label="t('school.rules.note')"
      />
      <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!changed">{{
        t('school.rules.save', { n: present.number + 1 })
      }}</ElButton>
      <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
      <span v-else-if="done" role="status" class="soft">{{ done }}</span>
    </div>
    <h2 class="versions">{{ t('school.rules.versions') }}</h2>
    <table class="plain stacks">
      <tbody>
        <tr v-for="(version, k) in rules.data.value.versions" :key="version.number">
          <td class="number nr">{{ version.number }}</td>
          <td class="soft when">
            {{ dayAndTime(version.changed_at, locale)
            }}<template v-if="version.changed_by">, {{ version.changed_by }}</template>
          </td>
          <td>{{ differences(k) }}</td>
          <td class="soft">{{ version.note }}</td>
        </tr>
      </tbody>
    </table>
  </form>
</template>

<style scoped>
.lead {
  max-width: 80ch;
}
.rules td:first-child {
  width: 330px;
}
.rules .group th {
  border-bottom: 1px solid var(--rule);
  padding-top: var(--space-3);
  font-weight: 600;
}
.value {
  white-space: nowrap;
}
.value input {
  width: 74px;
  text-align: right;
  border: 1px solid var(--rule);
  background: var(--surface);
  padding: 4px 6px;
}
.unit {
  display: inline-block;
  width: 30px;
  text-align: left;
  padding-left: 6px;
}
.allowed {
  width: 190px;
  white-space: nowrap;
}
.why {
  max-width: 62ch;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-3);
  margin: var(--space-4) 0;
}
.note {
  width: 420px;
  max-width: 100%;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.versions {
  margin-top: var(--space-5);
}
.nr {
  width: 30px;
}
.when {
  width: 230px;
}
@media (max-width: 600px) {
  .allowed,
  .when {
    width: auto;
    white-space: normal;
  }
}
</style>
