export const en = {
  name: 'Own bench',
  places: 'Readings on the real engine (up to six)',
  errorPercent: 'Error of the instrument, percent of the reading',
  caution:
    'This is done on a real engine: exhaust extraction on, hands away from belts, fans and hot parts. Local codes, the maker’s service information and licensed practice go first.',
  error: 'Error of the instrument: {n} % of the reading.',
  value: 'Value with its unit',
  hint: 'value and unit, such as {unit}',
  noBand: 'no band there: not decidable',
  missing: 'Give each reading a value with its unit, and a verdict.',
}
