/** The number that was typed into a field, held to its limits; undefined when it is none. */
export function typedNumber(event: Event, low: number, high: number): number | undefined {
  const text = (event.target as HTMLInputElement).value.trim()
  const typed = Number(text)
  return text === '' || Number.isNaN(typed) ? undefined : Math.min(Math.max(typed, low), high)
}
