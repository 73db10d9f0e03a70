// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import FromRecording from '@/features/workings/FromRecording.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)

const FEED = 'GET /api/recordings/4/feed/volumetric_efficiency'
const FED = { given: { m: '21 g/s' }, sources: { m: 'Morning, second 12' } }
const ANSWERS: Answers = { 'GET /api/recordings': [{ id: 4, name: 'Morning' }], [FEED]: FED }

async function part(answers: Answers = {}) {
  visit = await visited(FromRecording, { working: 'volumetric_efficiency' }, { ...ANSWERS, ...answers })
}
async function fill(second: string) {
  visit.page.getComponent({ name: 'PickOne' }).vm.$emit('choose', '4')
  await visit.page.get('.second').setValue(second)
  await button(visit.page, 'Fill from the recording').trigger('click')
  await quiet()
}

describe('an instant of a recording as the inputs of a calculation', () => {
  it('is the one that was typed', async () => {
    await part()
    expect(button(visit.page, 'Fill from the recording').attributes('disabled')).toBeDefined()
    await fill('12.5')
    expect(visit.calls(FEED)[0]?.query).toEqual({ at: '12.5' })
    expect(visit.page.emitted('fed')).toEqual([[FED]])
  })

  it('may be its first one', async () => {
    await part()
    await fill('0')
    expect(visit.calls(FEED)[0]?.query).toEqual({ at: '0' })
  })

  it('is that of the highest engine speed where none was typed', async () => {
    await part()
    await fill('')
    expect(visit.calls(FEED)[0]?.query).toEqual({})
  })

  it('that lies beyond the recording is said to', async () => {
    await part({ [FEED]: refusal(422, 'beyond', 'the recording ends at 61 s') })
    await fill('99')
    expect(visit.page.get('[role=alert]').text()).toBe('The recording ends at 61 s')
    expect(visit.page.emitted('fed')).toBeUndefined()
  })

  it('needs a recording, and says where one comes from', async () => {
    await part({ 'GET /api/recordings': [] })
    expect(visit.page.text()).toContain('keep one on the bench')
    expect(visit.page.find('button').exists()).toBe(false)
  })
})
