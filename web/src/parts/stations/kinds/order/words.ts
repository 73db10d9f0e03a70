export const en = {
  name: 'Order',
  causes: 'Causes that are in question',
  addCause: 'Add a cause',
  either: 'It is one of these, each as likely:',
  mine: 'Your order',
  none: 'Nothing yet: take the test that comes first.',
  left: 'Still to be placed',
  minutes: '{n} min',
  exchange: 'buys a part',
  up: 'Earlier: {test}',
  back: 'Take out: {test}',
  best: 'Costs least: {n} min on average',
  given: 'Your order: {n} min on average',
  range:
    'The dearest order takes {most} min on average. Up to 15 % above the best counts as right, up to 60 % as half right.',
  how: 'On average over the causes, until the cause is told from the others; ways, warming up and parts bought in vain included.',
  missing: 'Put every test in its place.',
}
