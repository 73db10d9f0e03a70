export const en = {
  name: 'Reflect',
  atLeast: 'Words at least',
  yours: 'In your own words',
  forTrainer: 'Your trainer reads this; nobody marks it.',
  missing: 'Write a few words more.',
}
