/** Bank and place along the pipe of an oxygen sensor, from the name of its knot; undefined for everything else. */
export function bankOf(knot: string): { bank: number; sensor: number } | undefined {
  const found = /_b(\d)s(\d)$/.exec(knot)
  return found ? { bank: Number(found[1]), sensor: Number(found[2]) } : undefined
}
