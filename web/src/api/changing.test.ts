// @vitest-environment happy-dom
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { defineComponent } from 'vue'
import { useChanging } from '@/api/changing'

function changing() {
  const queries = new QueryClient()
  const asked = vi.spyOn(queries, 'invalidateQueries')
  let found!: ReturnType<typeof useChanging>
  const page = defineComponent({
    setup() {
      found = useChanging('people')
      return () => null
    },
  })
  mount(page, { global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] } })
  return { ...found, asked }
}

describe('a change through the API', () => {
  it('is busy while it is on its way, and asks for the list anew once it is done', async () => {
    const { change, busy, done, asked } = changing()
    let finish!: (said: string) => void
    const under_way = change(() => new Promise<string>((resolve) => (finish = resolve)))
    expect(busy.value).toBe(true)
    expect(asked).not.toHaveBeenCalled()
    finish('Weiss was invited.')
    await under_way
    expect([busy.value, done.value]).toEqual([false, 'Weiss was invited.'])
    expect(asked).toHaveBeenCalledWith({ queryKey: ['people'] })
  })

  it('says in one sentence what was refused, until the next is tried', async () => {
    const { change, problem, busy, done } = changing()
    await change(() => Promise.reject(new Error('This name is taken.')))
    expect(problem.value).toMatch(/\.$/)
    expect([busy.value, done.value]).toEqual([false, ''])
    await change(() => Promise.resolve())
    expect(problem.value).toBe('')
  })
})
