import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

export type Catalogue = Schemas['Catalogue']
export type Channel = Schemas['ChannelOut']
export type FaultKind = Schemas['FaultKindOut']
export type Rig = Schemas['RigOut']

/** Names of everything: rigs, scripts, conditions, channels, units, fault kinds. Asked once a session. */
export function useCatalogue() {
  const query = useQuery({
    queryKey: ['catalogue'],
    queryFn: () => unwrap(client.GET('/api/catalogue')),
    staleTime: Infinity,
  })
  const channels = computed(() => new Map((query.data.value?.channels ?? []).map((c) => [c.id, c])))
  const quantities = computed(() => new Map((query.data.value?.quantities ?? []).map((q) => [q.id, q])))
  const conditions = computed(() => new Map((query.data.value?.conditions ?? []).map((c) => [c.id, c])))
  const faultKinds = computed(() => new Map((query.data.value?.faults ?? []).map((f) => [f.id, f])))
  return { catalogue: query.data, error: query.error, channels, quantities, conditions, faultKinds }
}
