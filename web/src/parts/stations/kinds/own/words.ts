export const en = {
  name: 'Own bench',
  places: 'Readings on the real engine (up to six)',
  errorPercent: 'Error of the instrument, percent of the reading',
  error: 'Error of the instrument: {n} % of the reading.',
  value: 'Value with its unit',
  hint: 'value and unit, such as {unit}',
  noBand: 'no band there: not decidable',
  unheeded: 'Acknowledge the cautions first.',
  missing: 'Give each reading a value with its unit, and a verdict.',
}
