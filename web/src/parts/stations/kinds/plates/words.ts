export const en = {
  name: 'Plates',
  which: 'What is shown (3 to 8)',
  group: {
    tip: 'Tips of oxygen sensors',
    terminal: 'Terminals',
    hose: 'Hoses',
    bank: 'Banks and sensors',
  },
  choose: 'choose',
  means: 'What picture {n} means',
  missing: 'Give each picture its meaning.',
}
