import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { sentence } from '@/api/client'

/**
 * Changes through the API from one part of a page: while one is on its way `busy`, what was refused in `problem`, what is done in
 * `done` (where the change says something). Afterwards what is listed under the key is asked anew.
 */
export function useChanging(key: string) {
  const queries = useQueryClient()
  const problem = ref('')
  const done = ref('')
  const busy = ref(false)

  async function change(work: () => Promise<string | void>) {
    problem.value = done.value = ''
    busy.value = true
    try {
      done.value = (await work()) ?? ''
      await queries.invalidateQueries({ queryKey: [key] })
    } catch (error) {
      problem.value = sentence(error)
    } finally {
      busy.value = false
    }
  }

  return { change, problem, done, busy }
}
