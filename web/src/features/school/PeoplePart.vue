<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useChanging } from '@/api/changing'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { session } from '@/api/session'
import { parsePeople } from '@/features/school/people'
import { dayAndTime } from '@/format/dates'

/** Everybody in the school: add people, give a new link to who has lost a password, close an account. */
const { t, locale } = useI18n()
const { change, problem, busy } = useChanging('people')
const people = useQuery({ queryKey: ['people'], queryFn: () => unwrap(client.GET('/api/people')), staleTime: 0 })
const lines = ref('')
const role = ref<Schemas['NewPerson']['role']>('learner')
const wanted = computed(() => parsePeople(lines.value, role.value))
const links = ref<Schemas['LinkOut'][]>([])

const add = () =>
  change(async () => {
    links.value = await unwrap(client.POST('/api/people', { body: { people: wanted.value } }))
    lines.value = ''
  })
const newLink = (username: string) =>
  change(async () => {
    links.value = [await unwrap(client.POST('/api/people/{username}/link', { params: { path: { username } } }))]
  })
const setActive = (username: string, active: boolean) =>
  change(async () => {
    await unwrap(client.PATCH('/api/people/{username}', { params: { path: { username } }, body: { active } }))
  })

function state(person: Schemas['PersonOut']): string {
  if (!person.active) return t('school.people.closed')
  if (person.link_waits) return t('school.people.linkWaits')
  if (person.last_sign_in) return t('school.people.lastSeen', { date: dayAndTime(person.last_sign_in, locale.value) })
  return t('school.people.never')
}

const address = (link: Schemas['LinkOut']) => `${location.origin}${link.path}`
</script>

<template>
  <div class="people">
    <section>
      <p v-if="people.error.value" role="alert">{{ sentence(people.error.value) }}</p>
      <div v-if="links.length" class="links" role="status">
        <h2>{{ t('school.people.links', links.length) }}</h2>
        <p class="soft">{{ t('school.people.linksText') }}</p>
        <dl>
          <template v-for="link in links" :key="link.username">
            <dt>{{ link.name }} ({{ link.username }})</dt>
            <dd v-if="link.path">
              <code>{{ address(link) }}</code>
            </dd>
            <dd v-else class="soft">{{ t('school.people.linkGone') }}</dd>
          </template>
        </dl>
        <ElButton size="small" @click="links = []">{{ t('school.people.linksDone') }}</ElButton>
      </div>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <table v-if="people.data.value" class="plain stacks">
        <thead>
          <tr>
            <th>{{ t('school.people.name') }}</th>
            <th>{{ t('school.people.username') }}</th>
            <th>{{ t('school.people.role') }}</th>
            <th>{{ t('school.people.state') }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="person in people.data.value" :key="person.username" :class="{ closed: !person.active }">
            <td>{{ person.name }}</td>
            <td :data-label="t('school.people.username')">{{ person.username }}</td>
            <td :data-label="t('school.people.role')">{{ t(`role.${person.role}`) }}</td>
            <td class="soft" :data-label="t('school.people.state')">{{ state(person) }}</td>
            <td class="acts">
              <template v-if="person.username !== session?.username">
                <button
                  v-if="person.active"
                  type="button"
                  class="plain"
                  :disabled="busy"
                  @click="newLink(person.username)"
                >
                  {{ t('school.people.newLink') }}
                </button>
                <button
                  type="button"
                  class="plain"
                  :disabled="busy"
                  @click="setActive(person.username, !person.active)"
                >
                  {{ person.active ? t('school.people.close') : t('school.people.open') }}
                </button>
              </template>
              <span v-else class="soft">{{ t('school.people.you') }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <form class="add" @submit.prevent="add">
      <h2>{{ t('school.people.add') }}</h2>
      <label class="label" for="people-lines">{{ t('school.people.lines') }}</label>
      <ElInput
        id="people-lines"
        v-model="lines"
        type="textarea"
        :rows="6"
        :placeholder="t('school.people.linesHint')"
      />
      <label class="label" for="people-role">{{ t('school.people.role') }}</label>
      <select id="people-role" v-model="role">
        <option v-for="one in ['learner', 'trainer', 'lead'] as const" :key="one" :value="one">
          {{ t(`role.${one}`) }}
        </option>
      </select>
      <p v-if="wanted.length" class="small soft">
        {{ t('school.people.names', { names: wanted.map((p) => p.username).join(', ') }) }}
      </p>
      <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!wanted.length">{{
        t('school.people.addButton', wanted.length)
      }}</ElButton>
    </form>
  </div>
</template>

<style scoped>
.people {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: var(--space-5);
}
.add {
  display: flex;
  flex-direction: column;
  gap: var(--space-2);
  border-left: 1px solid var(--rule);
  padding-left: var(--space-5);
  align-self: start;
}
.add select {
  border: 1px solid var(--rule);
  background: var(--surface);
  padding: 6px;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.plain:where(button) {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 2px 0 2px var(--space-3);
}
.closed td:not(.acts) {
  color: var(--text-faint);
}
.links {
  border-top: 2.5px solid var(--accent);
  padding: var(--space-3) 0 var(--space-4);
}
.links dd {
  margin: 0 0 var(--space-2);
  overflow-wrap: anywhere;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
@media (max-width: 860px) {
  .people {
    grid-template-columns: 1fr;
  }
  .add {
    border: 0;
    padding: 0;
  }
}
</style>
