import type { VueWrapper } from '@vue/test-utils'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter, type RouteRecordRaw, type Router } from 'vue-router'
import { router as own } from '@/app/router'
import type { Catalogue } from '@/api/catalogue'
import { session, type Me } from '@/api/session'
import { mounted } from '@/testing/mounted'
import { quiet, serve, type Answers, type Asked } from '@/testing/server'

const BLANK = { render: () => null }

/** The application's addresses, with nothing on their pages. */
function blank(routes: readonly RouteRecordRaw[]): RouteRecordRaw[] {
  return routes.map(
    ({ path, name, children }) => ({ path, name, component: BLANK, children: children && blank(children) }) as never,
  )
}

export interface Visit {
  page: VueWrapper
  /** Everything that was asked of the server so far. */
  asked: Asked[]
  /** What was asked by method and path. */
  calls: (of: string) => Asked[]
  router: Router
  /** The address where the person is now. */
  address: () => string
}

/** People of a school, as the server tells who is signed in. */
export const PEOPLE = {
  lead: {
    username: 'albrecht',
    name: 'Ines Albrecht',
    role: 'lead',
    school: 'Hollerbach',
    units: 'metric',
    bench: true,
  },
  trainer: {
    username: 'brandt',
    name: 'Jonas Brandt',
    role: 'trainer',
    school: 'Hollerbach',
    units: 'metric',
    bench: true,
  },
  learner: {
    username: 'ritter',
    name: 'Lea Ritter',
    role: 'learner',
    school: 'Hollerbach',
    units: 'metric',
    bench: false,
  },
} as Record<'lead' | 'trainer' | 'learner', unknown> as Record<'lead' | 'trainer' | 'learner', Me>

/** A page as somebody sees it at an address, before a server that gives these answers. */
export async function visited(
  component: Component,
  props: Record<string, unknown>,
  answers: Answers,
  as: { who?: Me | null; address?: string; stubs?: Record<string, boolean | Component>; catalogue?: unknown } = {},
): Promise<Visit> {
  const asked = serve(answers)
  session.value = as.who === undefined ? PEOPLE.trainer : as.who
  const router = createRouter({ history: createMemoryHistory(), routes: blank(own.options.routes) })
  await router.push(as.address ?? '/')
  const page = mounted(component, props, as.stubs, {}, [router], as.catalogue as Catalogue | undefined)
  await quiet()
  return {
    page,
    asked,
    calls: (of) => asked.filter((one) => `${one.method} ${one.path}` === of),
    router,
    address: () => router.currentRoute.value.fullPath,
  }
}

/** The button with these words. */
export function button(page: VueWrapper, words: string) {
  const found = page.findAll('button').find((entry) => entry.text() === words)
  if (!found)
    throw new Error(
      `there is no button "${words}", but: ${page
        .findAll('button')
        .map((b) => b.text())
        .join(' | ')}`,
    )
  return found
}

/** A key is pressed, in the page or in something on it. */
export async function press(key: string, on: EventTarget = window): Promise<void> {
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
  await quiet()
}
