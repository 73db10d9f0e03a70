export const en = {
  name: 'Judge',
  count: 'Readings per learner',
  pool: 'Pool of readings',
  missing: 'A verdict is missing. Judge every row; «not decidable here» is an answer too.',
  faultyCar: 'from the faulty car',
  soundCar: 'from a sound car',
  yourCar: 'this car',
  otherCar: 'a sound car',
}
