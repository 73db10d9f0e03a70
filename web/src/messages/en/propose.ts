/** Words of the proposal of a lesson. */
export const propose = {
  open: 'Propose a lesson',
  title: 'A lesson for an aim',
  lead: 'Stations in the order of the work, computed for the engine and checked for fairness. Everything in it can be changed, dropped or moved afterwards.',
  device: 'What learners shall understand and judge',
  engine: 'Engine',
  fault: 'Fault to be found',
  best: 'the one that shows best',
  level: 'Level',
  levels: { start: 'start', journeyman: 'journeyman', expert: 'expert' },
  minutes: 'Minutes',
  make: 'Make the lesson',
}
