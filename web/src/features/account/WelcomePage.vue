<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { sentence } from '@/api/client'
import { useLink } from '@/api/session'

/** Behind a one-time link: choose a password, and be signed in. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const password = ref('')
const problem = ref('')
const busy = ref(false)

async function submit() {
  problem.value = ''
  busy.value = true
  try {
    await useLink(route.hash.slice(1), password.value)
    await router.replace('/')
  } catch (error) {
    problem.value = sentence(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page">
    <form class="welcome" @submit.prevent="submit">
      <h1>{{ t('welcome.title') }}</h1>
      <p>{{ t('welcome.text') }}</p>
      <label class="label" for="first-password">{{ t('account.new') }}</label>
      <ElInput id="first-password" v-model="password" type="password" autocomplete="new-password" />
      <p class="small soft">{{ t('account.rule') }}</p>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!password">{{
        t('welcome.submit')
      }}</ElButton>
    </form>
  </div>
</template>

<style scoped>
.welcome {
  display: flex;
  flex-direction: column;
  gap: var(--space-2);
  max-width: 380px;
  border-top: 2.5px solid var(--accent);
  padding-top: var(--space-4);
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
  margin: 0;
}
</style>
