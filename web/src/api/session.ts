import { computed, ref } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

export type Me = Schemas['Me']
export type UnitSystem = Me['units']

/** Who is signed in: undefined before it is known, null when nobody is. */
export const session = ref<Me | null | undefined>(undefined)
export const units = computed<UnitSystem>(() => session.value?.units ?? 'metric')
export const isLead = computed(() => session.value?.role === 'lead')
/** Who may have benches: those who make lessons, and learners where their school has opened it. */
export const hasBench = computed(() => session.value?.bench === true)
export const makesLessons = computed(() => session.value?.role === 'trainer' || session.value?.role === 'lead')

/** Who is signed in, asked of the server. */
export async function loadSession(): Promise<void> {
  session.value = await unwrap(client.GET('/api/session'))
}

/** Sign in by name and password. */
export async function signIn(username: string, password: string): Promise<void> {
  session.value = await unwrap(client.POST('/api/session', { body: { username, password } }))
}

/** Set a password by an invitation or reset link, and be signed in. */
export async function useLink(token: string, password: string): Promise<void> {
  session.value = await unwrap(client.POST('/api/session/link', { body: { token, password } }))
}

/** End the session here and on the server. */
export async function signOut(): Promise<void> {
  await unwrap(client.DELETE('/api/session'))
  session.value = null
}

/** Keep the chosen system of units with the account. */
export async function chooseUnits(system: UnitSystem): Promise<void> {
  session.value = await unwrap(client.PATCH('/api/session', { body: { units: system } }))
}
