/** The four verdicts, in the order in which they are offered. */
export const VERDICTS = ['good', 'suspect', 'faulty', 'not_decidable'] as const
