/** A day as people write it: 25 Nov 2026. The language is the interface's. */
export function day(moment: string, language: string): string {
  return new Intl.DateTimeFormat(regional(language), { day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(moment),
  )
}

/** Day and time of a recent moment: 25 Nov, 08:05. */
export function dayAndTime(moment: string, language: string): string {
  const parts: Intl.DateTimeFormatOptions = {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hour12: false,
  }
  return new Intl.DateTimeFormat(regional(language), parts).format(new Date(moment))
}

/** Day before month, as in the school. */
function regional(language: string): string {
  return language === 'en' ? 'en-GB' : language
}
