import { describe, expect, it } from 'vitest'
import en from '@/messages/en'

const SOURCES = import.meta.glob<string>(['../**/*.{vue,ts}', '!../**/*.test.ts', '!./**'], {
  query: '?raw',
  import: 'default',
  eager: true,
})

/** What the catalogue has under a key. */
function under(key: string): unknown {
  return key.split('.').reduce<unknown>((part, name) => (part as Record<string, unknown> | undefined)?.[name], en)
}

/** Keys that sources ask for, each with where: whole ones, and the beginnings of those that end in a value. */
function asked(pattern: RegExp): [key: string, file: string][] {
  return Object.entries(SOURCES).flatMap(([file, text]) =>
    [...text.matchAll(pattern)].map(([, key]): [string, string] => [key ?? '', file]),
  )
}

describe('the words of the screen', () => {
  it('are there for every key that a page asks for', () => {
    // All of what is asked stands in quotes behind t(, also where one of two is chosen: t(on ? 'live.on' : 'live.off').
    const calls = asked(/(?<![\w.])t\(([^()]*(?:\([^()]*\)[^()]*)*)/g)
    const keys = calls.flatMap(([call, file]) =>
      [...call.matchAll(/'(\w+\.[\w.-]+)'/g)].map(([, key]) => [key ?? '', file] as const),
    )
    expect(keys.length).toBeGreaterThan(700)
    expect(keys.filter(([key]) => typeof under(key) !== 'string')).toEqual([])
  })

  it('are there for every group of keys that a page chooses from', () => {
    const groups = asked(/(?<![\w.])tm?\(\s*[`']([\w.-]+)\.\$\{/g)
    expect(groups.length).toBeGreaterThan(20)
    expect(groups.filter(([key]) => typeof under(key) !== 'object')).toEqual([])
  })
})
