import { createRouter, createWebHistory } from 'vue-router'
import { loadSession, session } from '@/api/session'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'home', component: () => import('@/features/home/HomePage.vue') },
    { path: '/sign-in', name: 'sign-in', component: () => import('@/features/session/SignInPage.vue') },
    { path: '/bench', name: 'bench', component: () => import('@/features/bench/BenchPage.vue') },
    { path: '/lessons/:id', name: 'editor', component: () => import('@/features/lessons/EditorPage.vue'), props: true },
    {
      path: '/lessons/:id/results',
      name: 'results',
      component: () => import('@/features/lessons/ResultsPage.vue'),
      props: true,
    },
    {
      path: '/attempts/:id',
      name: 'player',
      component: () => import('@/features/practice/PlayerPage.vue'),
      props: true,
    },
    {
      path: '/attempts/:id/debrief',
      name: 'debrief',
      component: () => import('@/features/practice/DebriefPage.vue'),
      props: true,
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('@/features/home/NowherePage.vue') },
  ],
})

router.beforeEach(async (to) => {
  if (session.value === undefined) await loadSession()
  if (!session.value && to.name !== 'sign-in')
    return { name: 'sign-in', query: to.path === '/' ? {} : { to: to.fullPath } }
  if (session.value && to.name === 'sign-in') return { name: 'home' }
})
