<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useChanging } from '@/api/changing'
import { client, unwrap } from '@/api/client'
import { session } from '@/api/session'
import { dayAndTime } from '@/format/dates'

/** One's own account: where one is signed in, and the password. */
const { t, locale } = useI18n()
const { change, problem, done, busy } = useChanging('sessions')
const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => unwrap(client.GET('/api/sessions')), staleTime: 0 })
const others = computed(() => (sessions.data.value ?? []).filter((row) => !row.here).length)
const old = ref('')
const fresh = ref('')

const changePassword = () =>
  change(async () => {
    await unwrap(client.POST('/api/session/password', { body: { old: old.value, new: fresh.value } }))
    old.value = fresh.value = ''
    if (session.value) session.value = { ...session.value, demo: false }
    return t('account.changed')
  })
const endOthers = () =>
  change(async () => {
    const ended = await unwrap(client.DELETE('/api/sessions'))
    return t('account.ended', ended.count ?? 0)
  })
</script>

<template>
  <div class="page">
    <h1>{{ session?.name }}</h1>
    <p class="soft">
      {{ t('account.who', { username: session?.username, role: t(`role.${session?.role}`), school: session?.school }) }}
    </p>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <p v-else-if="done" role="status">{{ done }}</p>
    <div class="two">
      <section>
        <h2>{{ t('account.sessions') }}</h2>
        <table class="plain stacks">
          <tbody>
            <tr v-for="(row, k) in sessions.data.value" :key="k">
              <td>{{ t('account.since', { date: dayAndTime(row.started_at, locale) }) }}</td>
              <td class="soft">{{ row.address }}</td>
              <td>{{ row.here ? t('account.here') : '' }}</td>
            </tr>
          </tbody>
        </table>
        <ElButton class="end" :disabled="others === 0 || busy" @click="endOthers">{{
          t('account.endOthers')
        }}</ElButton>
      </section>
      <form @submit.prevent="changePassword">
        <h2>{{ t('account.password') }}</h2>
        <p v-if="session?.demo" class="soft">{{ t('account.demo') }}</p>
        <label class="label" for="old-password">{{ t('account.old') }}</label>
        <ElInput id="old-password" v-model="old" type="password" autocomplete="current-password" />
        <label class="label" for="new-password">{{ t('account.new') }}</label>
        <ElInput id="new-password" v-model="fresh" type="password" autocomplete="new-password" />
        <p class="small soft">{{ t('account.rule') }}</p>
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!old || !fresh">{{
          t('account.change')
        }}</ElButton>
      </form>
    </div>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: var(--space-5);
  margin-top: var(--space-4);
}
form {
  display: flex;
  flex-direction: column;
  gap: var(--space-2);
  border-left: 1px solid var(--rule);
  padding-left: var(--space-5);
  align-self: start;
}
.end {
  margin-top: var(--space-3);
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
@media (max-width: 860px) {
  .two {
    grid-template-columns: 1fr;
  }
  form {
    border: 0;
    padding: 0;
  }
}
</style>
