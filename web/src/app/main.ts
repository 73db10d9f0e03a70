import '@fontsource-variable/noto-sans/standard.css'
import '@/app/look'
import '@/styles/tokens.css'
import '@/styles/base.css'
import '@/styles/element.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from '@/app/App.vue'
import { i18n } from '@/app/i18n'
import { router } from '@/app/router'
import { ApiError } from '@/api/client'

const app = createApp(App)
app.use(i18n)
app.use(router)
app.use(VueQueryPlugin, {
  queryClientConfig: {
    defaultOptions: {
      queries: {
        staleTime: 10_000,
        refetchOnWindowFocus: false,
        // Answers are replaced, never changed in place: watching every value in them would only cost time.
        shallow: true,
        // A refusal will not change by asking again; a lost server may come back.
        retry: (count, error) => count < 2 && !(error instanceof ApiError && error.status > 0),
      },
    },
  },
})
app.mount('#app')
