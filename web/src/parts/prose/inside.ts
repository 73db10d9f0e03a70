/**
 * A label in the midst of a sentence: its first letter small, unless it begins with an abbreviation ("Hot idle" is "hot
 * idle", "MAF signal" stays). English only: what another language does is decided here.
 */
export function inside(label: string): string {
  const [first = ''] = label.split(' ')
  return /[\p{Lu}\d]/u.test(first.slice(1)) ? label : label.slice(0, 1).toLowerCase() + label.slice(1)
}
