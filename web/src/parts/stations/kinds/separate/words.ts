export const en = {
  name: 'Separate',
  causes: 'Two causes that look alike',
  either: 'It is one of these two:',
  choose: 'Which test tells them apart, at the best price?',
  minutes: '{n} min',
  separates: 'separates',
  separatesNot: 'does not separate',
  chosen: 'chosen',
  missing: 'Choose the test that tells the two apart.',
}
