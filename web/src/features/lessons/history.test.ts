// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { useHistory } from '@/features/lessons/history'

describe('undo and redo', () => {
  let clock = 0
  beforeEach(() => {
    localStorage.clear()
    clock = 0
  })
  function started() {
    const document = ref<{ title: string; parts?: number } | undefined>({ title: 'a' })
    const history = useHistory(
      document,
      'h',
      (entry) => String(entry.parts ?? 0),
      () => clock,
    )
    history.note()
    const change = (title: string, after = 5000) => {
      clock += after
      document.value = { title }
      history.note()
    }
    return { document, history, change }
  }

  it('go back and forth step by step', () => {
    const { document, history, change } = started()
    change('b')
    change('c')
    history.undo()
    expect(document.value?.title).toBe('b')
    history.undo()
    expect(document.value?.title).toBe('a')
    expect(history.canUndo.value).toBe(false)
    history.redo()
    history.redo()
    expect(document.value?.title).toBe('c')
    expect(history.canRedo.value).toBe(false)
  })

  it('take what is typed in one go as one step', () => {
    const { document, history, change } = started()
    change('ab')
    change('abc', 200)
    change('abcd', 200)
    history.undo()
    expect(document.value?.title).toBe('a')
  })

  it('take a new part as a step of its own, however quick', () => {
    const { document, history, change } = started()
    change('ab')
    clock += 100
    document.value = { title: 'ab', parts: 1 }
    history.note()
    history.undo()
    expect(document.value?.title).toBe('ab')
    expect(document.value?.parts).toBeUndefined()
  })

  it('survive a reload', () => {
    const { change } = started()
    change('b')
    const document = ref<{ title: string; parts?: number } | undefined>({ title: 'b' })
    const again = useHistory(
      document,
      'h',
      (entry) => String(entry.parts ?? 0),
      () => clock,
    )
    again.note()
    again.undo()
    expect(document.value?.title).toBe('a')
  })

  it('forget what was undone when something else is done', () => {
    const { history, change } = started()
    change('b')
    history.undo()
    history.note()
    change('c')
    expect(history.canRedo.value).toBe(false)
  })

  it('keep what somebody else has done meanwhile', () => {
    const { document, history, change } = started()
    change('b')
    history.rebase((kept) => ({ ...kept, parts: 7 }))
    history.undo()
    expect(document.value).toEqual({ title: 'a', parts: 7 })
  })

  it('begin anew when what was kept cannot be read', () => {
    localStorage.setItem('h', '{broken')
    const { history } = started()
    expect(history.canUndo.value).toBe(false)
  })
})
