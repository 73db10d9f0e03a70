export const en = {
  name: 'Match',
  places: 'Places (three to eight)',
  faulty: 'Values of the faulty engine',
  loose: 'Values of one engine:',
  choose: 'choose a value',
  missing: 'Give each place a value.',
}
