// @vitest-environment happy-dom
import type { VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import CheckList from '@/features/lessons/CheckList.vue'
import ClashList from '@/features/lessons/ClashList.vue'
import LessonForm from '@/features/lessons/LessonForm.vue'
import StationBranch from '@/features/lessons/StationBranch.vue'
import StationComments from '@/features/lessons/StationComments.vue'
import StationVehicle from '@/features/lessons/StationVehicle.vue'
import { CATALOGUE, mounted } from '@/testing/mounted'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, visited } from '@/testing/visited'

let page: VueWrapper
afterEach(() => {
  page.unmount()
  vi.unstubAllGlobals()
})
const changes = () => (page.emitted('change') ?? []).map(([part]) => part)
const STUBS = { FaultList: true, EngineSelect: true }
const CARS = {
  ...CATALOGUE,
  scripts: [{ id: 'workshop_day', name: 'A day in the workshop', conditions: ['hot_idle'] }],
}

const LEAK = { kind: 'leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } }
const LESSON = {
  ...{ title: 'A leak', goal: '', rig: 'R1', script: 'workshop_day', drives: [] as object[], faults: [LEAK] },
  ...{ or_else: [] as object[][], cautions: ['Hot parts.'], level: '', closed_book: false },
  stations: [
    { id: 'a', kind: 'explain', title: 'Why' },
    { id: 'b', kind: 'judge', title: 'Trims' },
    { id: 'c', kind: 'conclude', title: 'Cause' },
  ] as object[],
}

describe('what holds for the whole lesson', () => {
  function form(more: object = {}) {
    page = mounted(LessonForm, { lesson: { ...LESSON, ...more } }, STUBS, {}, [], CARS as never)
  }

  it('is changed part by part', async () => {
    form()
    await page.get('#lesson-title').setValue('A meter')
    await page.get('#lesson-goal').setValue('tell a meter')
    await page.get('select[aria-label="Written for"]').setValue('expert')
    await page.get('.closed input').setValue(true)
    page.getComponent({ name: 'EngineSelect' }).vm.$emit('choose', 'R4')
    expect(changes()).toEqual([
      { title: 'A meter' },
      { goal: 'tell a meter' },
      { level: 'expert' },
      { closed_book: true },
      { rig: 'R4' },
    ])
  })

  it('has its cautions line by line, without empty ones', async () => {
    form()
    const field = page.get<HTMLTextAreaElement>('#lesson-cautions')
    expect(field.element.value).toBe('Hot parts.')
    await field.setValue('Hot parts.\n\n  Hands off the fan. \n')
    await field.trigger('change')
    expect(changes().at(-1)).toEqual({ cautions: ['Hot parts.', 'Hands off the fan.'] })
  })

  it('drives along a script that ships, or along what was driven on a bench', () => {
    const own = { id: 'own', name: 'Driven on the bench', segments: [{ window: { condition: 'hot_idle' } }, {}] }
    form({ drives: [own] })
    const drives = page
      .get('select[aria-label="Drive script"]')
      .findAll('option')
      .map((option) => option.text())
    expect(drives).toEqual(['Driven on the bench', 'A day in the workshop'])
  })

  it('may have another cause for some learners: up to four, each changed and taken out', async () => {
    form({ or_else: [[LEAK]] })
    const lists = page.findAllComponents({ name: 'FaultList' })
    lists[1]!.vm.$emit('change', [])
    await button(page, 'Another cause for some learners').trigger('click')
    await button(page, 'take out').trigger('click')
    expect(changes()).toEqual([{ or_else: [[]] }, { or_else: [[LEAK], []] }, { or_else: [] }])
    page.unmount()
    form({ or_else: [[LEAK], [LEAK], [LEAK], [LEAK]] })
    expect(page.text()).not.toContain('Another cause for some learners')
  })
})

describe('who gets a station', () => {
  function branch(station: object) {
    const stations = [...LESSON.stations.slice(0, 2), station]
    page = mounted(StationBranch, { station, lesson: { ...LESSON, stations } })
  }

  it('is everybody, or those with a result at a station before it that is marked', async () => {
    branch({ id: 'c', kind: 'conclude', title: 'Cause' })
    const options = page
      .findAll('select')[0]!
      .findAll('option')
      .map((option) => option.text())
    expect(options).toEqual(['everybody', 'some, by their result at “Trims”'])
    await page.findAll('select')[0]!.setValue('b')
    expect(changes()).toEqual([{ result: 'below', percent: 60, station: 'b' }])
  })

  it('is changed by side and limit, which stays between 1 and 100', async () => {
    branch({ id: 'c', kind: 'conclude', title: 'Cause', given_if: { station: 'b', result: 'below', percent: 60 } })
    await page.get('.limit select').setValue('reached')
    await page.get('.limit input').setValue('80')
    await page.get('.limit input').setValue('250')
    await page.findAll('select')[0]!.setValue('')
    expect(changes()).toEqual([
      { station: 'b', result: 'reached', percent: 60 },
      { station: 'b', result: 'below', percent: 80 },
      { station: 'b', result: 'below', percent: 100 },
      null,
    ])
  })

  it('says that the station it goes by is gone from before it', () => {
    branch({ id: 'c', kind: 'conclude', title: 'Cause', given_if: { station: 'gone', result: 'below', percent: 60 } })
    expect(page.text()).toContain('a station that is not before this one')
  })

  it('is not asked where nothing before it is marked', () => {
    const station = { id: 'b', kind: 'judge', title: 'Trims' }
    page = mounted(StationBranch, { station, lesson: { ...LESSON, stations: [LESSON.stations[0], station] } })
    expect(page.find('select').exists()).toBe(false)
  })
})

describe('another engine at one station', () => {
  function vehicle(told: object) {
    page = mounted(StationVehicle, { vehicle: told, lesson: LESSON }, STUBS, {}, [], CARS as never)
  }

  it('begins as the engine of the lesson, and is given up again', async () => {
    vehicle({})
    expect(page.find('.own').exists()).toBe(false)
    await page.get('.tick input').setValue(true)
    expect(changes()).toEqual([{ rig: 'R1', script: 'workshop_day', faults: [LEAK], individual: null }])
    page.unmount()
    vehicle({ rig: 'R4', script: null, faults: null, individual: null })
    await page.get('.tick input').setValue(false)
    expect(changes()).toEqual([{}])
  })

  it('is one of its series for each learner, or the same for all', async () => {
    vehicle({ rig: 'R4', individual: null })
    expect(page.find('#individual').exists()).toBe(false)
    await page.findAll('.tick input')[1]!.setValue(true)
    expect(changes()).toEqual([{ rig: 'R4', individual: 0 }])
    await page.setProps({ vehicle: { rig: 'R4', individual: 0 } })
    await page.get('#individual').setValue('17.4')
    expect(changes().at(-1)).toEqual({ rig: 'R4', individual: 17 })
  })
})

describe('words for a colleague', () => {
  const word = (id: number, station: string, settled = false) => ({
    ...{ id, station, settled, text: `Word ${id}`, author: 'Brandt', written_at: '2026-11-02T08:30:00Z' },
  })
  const ANSWERS: Answers = {
    'GET /api/lessons/7/comments': [word(1, 'b'), word(2, 'c'), word(3, 'b', true)],
    'POST /api/lessons/7/comments': {},
    'PUT /api/lessons/7/comments/1': {},
    'PUT /api/lessons/7/comments/3': {},
  }
  async function comments(answers: Answers = {}) {
    const visit = await visited(StationComments, { lesson: 7, station: 'b' }, { ...ANSWERS, ...answers })
    page = visit.page
    return visit
  }

  it('stand at their station, and are settled and opened again', async () => {
    const visit = await comments()
    expect(page.findAll('.comment > p:first-child').map((entry) => entry.text())).toEqual(['Word 1', 'Word 3'])
    await button(page, 'settled').trigger('click')
    await button(page, 'open again').trigger('click')
    await quiet()
    expect(visit.calls('PUT /api/lessons/7/comments/1')[0]?.body).toEqual({ settled: true })
    expect(visit.calls('PUT /api/lessons/7/comments/3')[0]?.body).toEqual({ settled: false })
  })

  it('are added, and the field is free for the next', async () => {
    const visit = await comments()
    expect(page.find('button.add').exists()).toBe(false)
    await page.get('textarea').setValue('Too easy?')
    await page.get('button.add').trigger('click')
    await quiet()
    expect(visit.calls('POST /api/lessons/7/comments')[0]?.body).toEqual({ station: 'b', text: 'Too easy?' })
    expect(page.get('textarea').element.value).toBe('')
    expect(visit.calls('GET /api/lessons/7/comments')).toHaveLength(2)
  })

  it('stay in the field when they do not arrive', async () => {
    await comments({ 'POST /api/lessons/7/comments': refusal(404, 'gone', 'this lesson is gone') })
    await page.get('textarea').setValue('Too easy?')
    await page.get('button.add').trigger('click')
    await quiet()
    expect(page.get('[role=alert]').text()).toBe('This lesson is gone')
    expect(page.get('textarea').element.value).toBe('Too easy?')
  })
})

describe('what is unfair', () => {
  const remedy = (says: string) => ({ says })
  const warning = (station: string, text: string) => ({
    ...{ station, text, code: text, remedies: [remedy(`${text} A`), remedy(`${text} B`)] },
  })

  it('stands with the chosen station first and all that answers it; from afar with the best only', async () => {
    const warnings = [warning('c', 'Cause open'), warning('b', 'Not shown')]
    page = mounted(CheckList, { warnings, station: 'b' })
    expect(page.findAll('button').map((entry) => entry.text())).toEqual([
      ...['Not shown A', 'Not shown B', 'Cause open', 'Cause open A'],
    ])
    await button(page, 'Not shown B').trigger('click')
    await button(page, 'Cause open').trigger('click')
    expect(page.emitted('remedy')).toEqual([['b', remedy('Not shown B')]])
    expect(page.emitted('pick')).toEqual([['c']])
  })
})

describe('parts that two have changed', () => {
  it('are settled one by one, and say who took a station out', async () => {
    const clashes = [
      { id: '', title: '', mine: undefined, theirs: undefined },
      { id: 'b', title: 'Trims', mine: { id: 'b' }, theirs: undefined },
    ]
    page = mounted(ClashList, { clashes, who: 'Albrecht' })
    expect(page.text()).toContain('Albrecht has changed the same parts meanwhile.')
    const rows = page.findAll('.row')
    expect(rows[0]!.text()).toContain('Car and faults')
    expect(rows[1]!.text()).toContain('taken out by them')
    await rows[1]!.findAll('button')[0]!.trigger('click')
    await rows[0]!.findAll('button')[1]!.trigger('click')
    expect(page.emitted('settle')).toEqual([
      [clashes[1], true],
      [clashes[0], false],
    ])
  })
})
