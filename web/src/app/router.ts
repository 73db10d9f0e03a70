import { createRouter, createWebHistory } from 'vue-router'
import { hasBench, isLead, loadSession, session } from '@/api/session'

/** Pages of those who make lessons: others are led home, as the server would refuse them anyway. */
const MAKERS = ['lead', 'trainer']
const OPEN = ['sign-in', 'welcome']

export const router = createRouter({
  history: createWebHistory('/'),
  // A page opens at its top, or at the part that was asked for once that is there.
  scrollBehavior: (to, from, saved) => {
    if (saved) return saved
    if (to.hash) return appeared(to.hash)
    return to.path === from.path ? false : { top: 0 }
  },
  routes: [
    { path: '/', name: 'home', component: () => import('@/features/home/HomePage.vue') },
    { path: '/sign-in', name: 'sign-in', component: () => import('@/features/session/SignInPage.vue') },
    { path: '/welcome', name: 'welcome', component: () => import('@/features/account/WelcomePage.vue') },
    { path: '/account', name: 'account', component: () => import('@/features/account/AccountPage.vue') },
    { path: '/bench', name: 'bench', component: () => import('@/features/bench/BenchPage.vue'), meta: { bench: true } },
    { path: '/drills', name: 'drills', component: () => import('@/features/drills/DrillsPage.vue') },
    { path: '/drills/:id', name: 'drill', component: () => import('@/features/drills/DrillPage.vue'), props: true },
    {
      path: '/drills/:id/figures',
      name: 'drill-figures',
      component: () => import('@/features/drills/FiguresPage.vue'),
      props: true,
    },
    { path: '/drive', name: 'drive', component: () => import('@/features/drive/DrivePage.vue'), meta: { for: MAKERS } },
    {
      path: '/values',
      name: 'values',
      component: () => import('@/features/values/ValuesPage.vue'),
      meta: { bench: true },
    },
    { path: '/atlas', name: 'atlas', component: () => import('@/features/atlas/AtlasPage.vue') },
    { path: '/atlas/words', name: 'glossary', component: () => import('@/features/atlas/GlossaryPage.vue') },
    {
      path: '/atlas/:id',
      name: 'device',
      component: () => import('@/features/atlas/DevicePage.vue'),
      props: true,
    },
    {
      path: '/signatures',
      name: 'signatures',
      component: () => import('@/features/signatures/SignaturesPage.vue'),
      meta: { for: MAKERS },
    },
    { path: '/workings', name: 'workings', component: () => import('@/features/workings/WorkingsPage.vue') },
    {
      path: '/school',
      component: () => import('@/features/school/SchoolPage.vue'),
      meta: { for: MAKERS },
      children: [
        {
          path: '',
          name: 'school',
          component: () => import('@/features/school/RulesPart.vue'),
          beforeEnter: () => ({ name: isLead.value ? 'school-people' : 'school-rules' }),
        },
        {
          path: 'people',
          name: 'school-people',
          component: () => import('@/features/school/PeoplePart.vue'),
          meta: { for: ['lead'] },
        },
        { path: 'rules', name: 'school-rules', component: () => import('@/features/school/RulesPart.vue') },
        {
          path: 'trail',
          name: 'school-trail',
          component: () => import('@/features/school/TrailPart.vue'),
          meta: { for: ['lead'] },
        },
      ],
    },
    { path: '/plan', name: 'plan', component: () => import('@/features/plan/PlanPage.vue'), meta: { for: MAKERS } },
    {
      path: '/lessons/:id',
      name: 'editor',
      component: () => import('@/features/lessons/EditorPage.vue'),
      props: true,
      meta: { for: MAKERS },
    },
    {
      path: '/lessons/:id/versions',
      name: 'versions',
      component: () => import('@/features/lessons/VersionsPage.vue'),
      props: true,
      meta: { for: MAKERS },
    },
    {
      path: '/lessons/:id/results',
      name: 'results',
      component: () => import('@/features/lessons/ResultsPage.vue'),
      props: true,
      meta: { for: MAKERS },
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

/** Where a part of a page is, once it has been drawn; the top when it does not come. */
async function appeared(hash: string): Promise<ScrollToOptions | { el: string }> {
  for (let tries = 0; tries < 40; tries += 1) {
    if (document.getElementById(hash.slice(1))) return { el: hash }
    await new Promise((resolve) => window.setTimeout(resolve, 50))
  }
  return { top: 0 }
}

router.beforeEach(async (to) => {
  if (session.value === undefined) await loadSession()
  if (!session.value && !OPEN.includes(String(to.name)))
    return { name: 'sign-in', query: to.path === '/' ? {} : { to: to.fullPath } }
  const mayNot = to.matched.some(({ meta }) => Array.isArray(meta.for) && !meta.for.includes(session.value?.role))
  const noBench = to.matched.some(({ meta }) => meta.bench) && !hasBench.value
  if (session.value && (to.name === 'sign-in' || mayNot || noBench)) return { name: 'home' }
})
