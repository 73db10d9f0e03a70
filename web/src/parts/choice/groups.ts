/** Entries under one heading; a list without headings is one group whose label is empty. */
export interface Group {
  label: string
  entries: { value: string; label: string }[]
}

/** Entries in groups, both in the order in which they first come. */
export function grouped<T>(
  items: Iterable<T>,
  heading: (item: T) => string,
  entry: (item: T) => Group['entries'][0],
): Group[] {
  const found = new Map<string, Group>()
  for (const item of items) {
    const label = heading(item)
    if (!found.has(label)) found.set(label, { label, entries: [] })
    found.get(label)!.entries.push(entry(item))
  }
  return [...found.values()]
}

/** Entries of what has an id and a name. */
export function named(items: { id: string; name: string }[]): Group['entries'] {
  return items.map(({ id, name }) => ({ value: id, label: name }))
}
