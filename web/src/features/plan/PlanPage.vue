<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import AimList from '@/features/plan/AimList.vue'
import DeviceChoice from '@/features/plan/DeviceChoice.vue'
import ProposedOutline from '@/features/plan/ProposedOutline.vue'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import type { Station } from '@/parts/stations/kind'

/** From what learners can do afterwards to a whole lesson: choose, look at what is proposed, take it into the editor. */
const { t } = useI18n()
const router = useRouter()
const aims = useQuery({
  queryKey: ['aims'],
  queryFn: () => unwrap(client.GET('/api/aims')),
  staleTime: Infinity,
})
const by = ref('aim')
const aim = ref<Schemas['AimOut']>()
const page = ref('narrowband')
const rig = ref('R1')
const fault = ref('')
const level = ref('journeyman')
const minutes = ref(60)
const dropped = ref<string[]>([])

const ways = computed(() => ['aim', 'device'].map((id) => ({ id, label: t(`plan.by.${id}`) })))
const levels = computed(() => ['start', 'journeyman', 'expert'].map((id) => ({ id, label: t(`propose.levels.${id}`) })))
const before = computed(() => (aims.data.value ?? []).filter((entry) => aim.value?.after.includes(entry.id)))

function choose(next: Schemas['AimOut']) {
  aim.value = next
  level.value = next.level
  minutes.value = next.minutes
  rig.value = (next.rigs.find((entry) => entry.ready) ?? next.rigs[0])?.id ?? 'R1'
}
const propose = useMutation({
  mutationFn: () => {
    const about =
      by.value === 'aim'
        ? { aim: aim.value?.id ?? '', page: '', fault: '' }
        : { aim: '', page: page.value, fault: fault.value }
    return unwrap(
      client.POST('/api/lessons/propose', {
        body: { ...about, rig: rig.value, level: level.value, minutes: minutes.value },
      }),
    )
  },
  onSuccess: () => (dropped.value = []),
})
watch([by, aim, page, rig, fault, level, minutes], () => propose.reset())
const make = useMutation({
  mutationFn: () => {
    const document = propose.data.value?.document
    const stations = (document?.stations ?? []).filter((station) => !dropped.value.includes(station.id))
    return unwrap(client.POST('/api/lessons', { body: { document: { ...document, stations } } }))
  },
  onSuccess: (made) => router.push({ name: 'editor', params: { id: made.id } }),
})
const problem = computed(() => propose.error.value ?? make.error.value ?? aims.error.value)
</script>

<template>
  <div class="page plan">
    <div class="choosing">
      <h1>{{ t('propose.open') }}</h1>
      <p class="soft">{{ t('propose.lead') }}</p>
      <ChoiceRow :label="t('plan.from')" :value="by" :choices="ways" @choose="(id) => (by = id)" />
      <AimList v-if="by === 'aim'" :aims="aims.data.value ?? []" :chosen="aim?.id ?? ''" @choose="choose" />
      <DeviceChoice v-else v-model:page="page" v-model:rig="rig" v-model:fault="fault" />
    </div>
    <aside>
      <p v-if="by === 'aim' && !aim" class="soft">{{ t('plan.choose') }}</p>
      <template v-else>
        <template v-if="by === 'aim' && aim">
          <h2>{{ aim.title }}</h2>
          <p>{{ t('plan.can', { can: aim.can }) }}</p>
          <p class="small soft">{{ aim.why }}</p>
          <p v-if="before.length" class="small soft">
            {{ t('plan.after', { list: before.map((entry) => entry.title).join('; ') }) }}
          </p>
          <label class="label" for="plan-rig">{{ t('propose.engine') }}</label>
          <select id="plan-rig" v-model="rig">
            <option v-for="entry in aim.rigs" :key="entry.id" :value="entry.id">
              {{ entry.ready ? entry.name : t('plan.notReady', { name: entry.name }) }}
            </option>
          </select>
        </template>
        <ChoiceRow :label="t('propose.level')" :value="level" :choices="levels" @choose="(id) => (level = id)" />
        <label class="minutes">
          <span class="label">{{ t('propose.minutes') }}</span>
          <input v-model.number="minutes" type="number" min="25" max="180" step="5" />
        </label>
        <div class="acts">
          <ElButton
            :type="propose.data.value ? 'default' : 'primary'"
            :loading="propose.isPending.value"
            @click="propose.mutate()"
            >{{ t('plan.propose') }}</ElButton
          >
          <ElButton v-if="propose.data.value" type="primary" :loading="make.isPending.value" @click="make.mutate()">{{
            t('propose.make')
          }}</ElButton>
        </div>
        <p v-if="propose.isPending.value" class="small soft" role="status">{{ t('plan.working') }}</p>
        <ProposedOutline
          v-if="propose.data.value"
          v-model:dropped="dropped"
          :title="propose.data.value.document.title"
          :reasons="propose.data.value.reasons"
          :stations="propose.data.value.document.stations as Station[]"
        />
      </template>
      <p v-if="problem" role="alert">{{ sentence(problem) }}</p>
    </aside>
  </div>
</template>

<style scoped>
.plan {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 420px);
  gap: var(--space-5);
  align-items: start;
}
aside {
  position: sticky;
  top: var(--space-3);
  max-height: calc(100vh - 80px);
  overflow-y: auto;
  border-top: 1px solid var(--text);
  padding: var(--space-2) 1px 0 0;
}
select {
  width: 100%;
}
.minutes {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 5px 0;
}
.minutes input {
  width: 84px;
}
.minutes .label {
  flex: 0 0 60px;
}
aside :deep(.row > .label) {
  flex-basis: 60px;
}
.acts {
  display: flex;
  gap: var(--space-2);
  margin: var(--space-3) 0 var(--space-2);
}
@media (max-width: 900px) {
  .plan {
    grid-template-columns: minmax(0, 1fr);
  }
  aside {
    position: static;
    max-height: none;
  }
}
</style>
