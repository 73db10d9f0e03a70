// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import PeoplePart from '@/features/school/PeoplePart.vue'
import RulesPart from '@/features/school/RulesPart.vue'
import SchoolPage from '@/features/school/SchoolPage.vue'
import TrailPart from '@/features/school/TrailPart.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)
const lead = { who: PEOPLE.lead }

describe('the parts of the school', () => {
  it('are all there for the lead, and only the rules for a trainer', async () => {
    visit = await visited(SchoolPage, {}, {}, lead)
    const parts = () => visit.page.findAll('nav a').map((link) => link.text())
    expect(parts()).toEqual(['People', 'Rules', 'Trail'])
    visit.page.unmount()
    visit = await visited(SchoolPage, {}, {})
    expect(parts()).toEqual(['Rules'])
  })
})

describe('people of the school', () => {
  function person(username: string, more: object = {}) {
    const told = { username, name: username.toUpperCase(), role: 'learner', active: true, link_waits: false }
    return { ...told, last_sign_in: null, ...more }
  }
  const ALL = [
    person('albrecht', { role: 'lead', last_sign_in: '2026-11-02T08:30:00Z' }),
    person('vogt', { link_waits: true }),
    person('sommer', { active: false }),
    person('ritter'),
  ]
  const LINK = { username: 'vogt', name: 'Lene Vogt', path: '/welcome#once' }
  const ANSWERS: Answers = {
    'GET /api/people': ALL,
    'POST /api/people': [LINK, { username: 'weiss', name: 'Tim Weiss', path: '' }],
    'POST /api/people/ritter/link': { ...LINK, username: 'ritter' },
    'PATCH /api/people/vogt': person('vogt', { active: false }),
    'PATCH /api/people/sommer': person('sommer'),
  }
  const people = (answers: Answers = {}) => visited(PeoplePart, {}, { ...ANSWERS, ...answers }, lead)
  const row = (username: string) => visit.page.findAll('tbody tr').find((entry) => entry.text().includes(username))!

  it('are told with the state of their accounts', async () => {
    visit = await people()
    expect(row('albrecht').text()).toContain('last signed in')
    expect(row('vogt').text()).toContain('has a one-time link that is not used yet')
    expect(row('sommer').text()).toContain('closed; everything of theirs is kept')
    expect(row('ritter').text()).toContain('never signed in')
  })

  it('do not close their own account by mistake', async () => {
    visit = await people()
    expect(row('albrecht').findAll('button')).toHaveLength(0)
    expect(row('albrecht').text()).toContain('you')
  })

  it('are added by lines, with the sign-in names shown before', async () => {
    visit = await people()
    expect(button(visit.page, 'Add people').attributes('disabled')).toBeDefined()
    await visit.page.get('textarea').setValue('Lene Vogt\nTim Weiss, tim')
    await visit.page.get('#people-role').setValue('trainer')
    expect(visit.page.text()).toContain('Sign-in names: vogt, tim')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.calls('POST /api/people')[0]?.body).toEqual({
      people: [
        { first_name: 'Lene', last_name: 'Vogt', username: 'vogt', role: 'trainer' },
        { first_name: 'Tim', last_name: 'Weiss', username: 'tim', role: 'trainer' },
      ],
    })
    expect(visit.page.get('textarea').element.value).toBe('')
  })

  it('get links that are shown once, whole, and only until they are handed over', async () => {
    visit = await people()
    await visit.page.get('textarea').setValue('Lene Vogt')
    await visit.page.get('form').trigger('submit')
    await quiet()
    const links = visit.page.get('.links')
    expect(links.text()).toContain('2 links to hand over')
    expect(links.get('code').text()).toBe(`${location.origin}/welcome#once`)
    expect(links.text()).toContain('was shown when it was made; make a new one')
    await button(visit.page, 'I have handed them over').trigger('click')
    expect(visit.page.text()).not.toContain('#once')
  })

  it('keep what was typed when the server refuses it, and the reason is said', async () => {
    visit = await people({ 'POST /api/people': refusal(422, 'taken', 'the name vogt is taken') })
    await visit.page.get('textarea').setValue('Lene Vogt')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('The name vogt is taken')
    expect(visit.page.get('textarea').element.value).toBe('Lene Vogt')
  })

  it('get a new link, are shut out and let in again; the list is asked anew each time', async () => {
    visit = await people()
    const press = async (username: string, words: string) => {
      await row(username)
        .findAll('button')
        .find((entry) => entry.text() === words)!
        .trigger('click')
      await quiet()
    }
    await press('ritter', 'New link')
    expect(visit.page.text()).toContain('One link to hand over')
    await press('vogt', 'Close account')
    expect(visit.calls('PATCH /api/people/vogt')[0]?.body).toEqual({ active: false })
    await press('sommer', 'Open account')
    expect(visit.calls('PATCH /api/people/sommer')[0]?.body).toEqual({ active: true })
    expect(visit.calls('GET /api/people')).toHaveLength(4)
    expect(
      row('sommer')
        .findAll('button')
        .some((entry) => entry.text() === 'New link'),
    ).toBe(false)
  })
})

describe('rules of the school', () => {
  const rule = (id: string, label: string, used_by: string) => ({
    ...{ id, label, used_by, unit: '%', low: 5, high: 40, usual: 10, why: 'Some allow more.' },
  })
  const ALL = {
    rules: [rule('trim', 'Limit of trims', 'Fuelling'), rule('drop', 'Voltage drop', 'Wiring')],
    versions: [
      {
        number: 2,
        values: { trim: 12, drop: 10 },
        note: 'as agreed',
        changed_at: '2026-11-02T08:30:00Z',
        changed_by: 'Albrecht',
      },
      { number: 1, values: { trim: 10, drop: 10 }, note: '', changed_at: '2026-09-01T08:30:00Z', changed_by: '' },
    ],
  }
  const ANSWERS: Answers = {
    'GET /api/rules': ALL,
    'PUT /api/rules': ({ body }: Asked) => ({ ...ALL.versions[0], ...(body as object), number: 3 }),
    'GET /api/school': { learners_bench: false },
    'PATCH /api/school': { learners_bench: true },
  }

  it('stand by what uses them, with the range and the reason', async () => {
    visit = await visited(RulesPart, {}, ANSWERS, lead)
    expect(visit.page.findAll('tr.group').map((group) => group.text())).toEqual(['Fuelling', 'Wiring'])
    expect(visit.page.text()).toContain('5 to 40, usually 10')
    expect(visit.page.get<HTMLInputElement>('#rule-trim').element.value).toBe('12')
  })

  it('tell what each version changed against the one before', async () => {
    visit = await visited(RulesPart, {}, ANSWERS, lead)
    const versions = visit.page
      .findAll('table')
      .at(-1)!
      .findAll('tr')
      .map((entry) => entry.text())
    expect(versions[0]).toContain('Limit of trims: 10 → 12')
    expect(versions[0]).toContain('Albrecht')
    expect(versions[0]).not.toContain('Voltage drop')
    expect(versions[1]).toContain('first version')
  })

  it('are saved as a new version that names the one it was made from, with its reason', async () => {
    visit = await visited(RulesPart, {}, ANSWERS, lead)
    const save = () => button(visit.page, 'Save as version 3')
    expect(save().attributes('disabled')).toBeDefined()
    await visit.page.get('#rule-drop').setValue('8')
    expect(save().attributes('disabled')).toBeUndefined()
    await visit.page.get('.foot input').setValue('by our supplier')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.calls('PUT /api/rules')[0]?.body).toEqual({
      number: 2,
      values: { trim: 12, drop: 8 },
      note: 'by our supplier',
    })
    expect(visit.page.get('[role=status]').text()).toBe('Version 3 is in force.')
  })

  it('stay as typed when somebody else was quicker, and that is said', async () => {
    const refused = refusal(409, 'conflict', 'somebody has changed the rules meanwhile')
    visit = await visited(RulesPart, {}, { ...ANSWERS, 'PUT /api/rules': refused }, lead)
    await visit.page.get('#rule-drop').setValue('8')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.page.get('.foot [role=alert]').text()).toBe('Somebody has changed the rules meanwhile')
    expect(visit.page.get<HTMLInputElement>('#rule-drop').element.value).toBe('8')
  })

  it('can be read by trainers, and changed only by the lead', async () => {
    visit = await visited(RulesPart, {}, ANSWERS)
    expect(visit.page.find('#rule-trim').exists()).toBe(false)
    expect(visit.page.get('.rules').text()).toContain('12')
    expect(visit.page.find('.foot').exists()).toBe(false)
    expect(visit.page.get('.switch input').attributes('disabled')).toBeDefined()
  })

  it('let learners have benches of their own when the lead says so', async () => {
    visit = await visited(RulesPart, {}, ANSWERS, lead)
    const tick = visit.page.get<HTMLInputElement>('.switch input')
    expect(tick.element.checked).toBe(false)
    await tick.setValue(true)
    await quiet()
    expect(visit.calls('PATCH /api/school')[0]?.body).toEqual({ learners_bench: true })
  })
})

describe('the trail', () => {
  const entry = (id: number) => ({
    id,
    at: '2026-11-02T08:30:00Z',
    who: 'Albrecht',
    words: 'published',
    what: `no. ${id}`,
  })

  it('begins with the newest hundred and goes back page by page', async () => {
    const answer = ({ query }: Asked) =>
      query.before ? [entry(1)] : Array.from({ length: 100 }, (_, k) => entry(101 - k))
    visit = await visited(TrailPart, {}, { 'GET /api/audit': answer }, lead)
    expect(visit.page.findAll('tbody tr')).toHaveLength(100)
    await button(visit.page, 'Earlier entries').trigger('click')
    await quiet()
    expect(visit.calls('GET /api/audit').map((one) => one.query.before)).toEqual([undefined, '2'])
    expect(visit.page.findAll('tbody tr').at(-1)!.text()).toContain('published no. 1')
    expect(visit.page.findAll('button')).toHaveLength(0)
  })
})
