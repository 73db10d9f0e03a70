<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { sentence } from '@/api/client'
import { signIn } from '@/api/session'
import DoubtPuzzle from '@/features/session/DoubtPuzzle.vue'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const name = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)

async function submit() {
  problem.value = ''
  if (!name.value.trim() || !password.value) {
    problem.value = t('signIn.missing')
    return
  }
  busy.value = true
  try {
    await signIn(name.value, password.value)
    const wanted = typeof route.query.to === 'string' && route.query.to.startsWith('/') ? route.query.to : '/'
    await router.replace(wanted)
  } catch (error) {
    problem.value = sentence(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page start">
    <DoubtPuzzle />
    <form class="sign-in" @submit.prevent="submit">
      <h2>{{ t('signIn.title') }}</h2>
      <label class="label" for="name">{{ t('signIn.name') }}</label>
      <ElInput id="name" v-model="name" autocomplete="username" />
      <label class="label" for="password">{{ t('signIn.password') }}</label>
      <ElInput id="password" v-model="password" type="password" autocomplete="current-password" />
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <ElButton type="primary" native-type="submit" :loading="busy">{{ t('signIn.submit') }}</ElButton>
    </form>
  </div>
</template>

<style scoped>
.start {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 260px;
  gap: var(--space-5);
}
.sign-in {
  display: flex;
  flex-direction: column;
  gap: var(--space-2);
  border-left: 1px solid var(--rule);
  padding-left: var(--space-5);
  align-self: start;
}
.sign-in .el-button {
  margin-top: var(--space-2);
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
  margin: var(--space-1) 0 0;
}
@media (max-width: 860px) {
  .start {
    grid-template-columns: 1fr;
  }
  .sign-in {
    border: 0;
    padding: 0;
    width: min(100%, 360px);
  }
}
</style>
