import type { Schemas } from '@/api/client'

type Wish = Schemas['BenchIn']
type Drive = Schemas['LanesOut']

/**
 * Drives of one page beside that of the sound engine: its lanes come with the first one and stay here, so that a changed
 * fault brings its own only.
 */
export function useBeside() {
  let kept: { of: string; lanes: Drive['lanes'] } | undefined

  return async (wish: Omit<Wish, 'good'>, ask: (wish: Wish) => Promise<Drive>): Promise<Drive> => {
    const of = JSON.stringify([wish.rig, wish.script, wish.seed, wish.channels])
    const known = kept?.of === of ? kept.lanes : undefined
    const drive = await ask({ ...wish, good: !known })
    if (!known) kept = { of, lanes: drive.lanes }
    return known ? { ...drive, lanes: withGood(drive.lanes, known) } : drive
  }
}

function withGood(lanes: Drive['lanes'], from: Drive['lanes']): Drive['lanes'] {
  return Object.fromEntries(
    Object.entries(lanes).map(([name, lane]) => [name, { ...lane, good: from[name]?.good ?? null }]),
  )
}
