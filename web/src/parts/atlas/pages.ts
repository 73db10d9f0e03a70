import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

type Page = Schemas['PageLine']

/** The index of the atlas, asked once a session. */
export function useAtlas() {
  const query = useQuery({
    queryKey: ['atlas'],
    queryFn: () => unwrap(client.GET('/api/atlas')),
    staleTime: Infinity,
  })
  return {
    pages: computed(() => query.data.value?.pages ?? []),
    drawings: computed(() => query.data.value?.drawings ?? []),
    error: query.error,
  }
}

/** The page of a knot of the thread, or of a channel, on an engine that has the device. */
export function pageOf(
  pages: readonly Page[],
  what: { knot?: string; channel?: string },
  rig: string,
): Page | undefined {
  return pages.find(
    (page) =>
      page.rigs.includes(rig) &&
      ((what.knot !== undefined && [...page.sensors, ...page.stations].includes(what.knot)) ||
        (what.channel !== undefined && page.channels.includes(what.channel))),
  )
}
