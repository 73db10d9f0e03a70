export const en = {
  name: 'Measure',
  asked: 'Value to measure',
  tolerance: 'Tolerance',
  fromFaulty: 'Measured on the faulty car',
  label: 'Your reading, with its unit',
  hint: 'for example 12.5 {unit}',
  missing: 'No reading is entered yet. Read the value in the lane and write it with its unit.',
  tolerated: 'accepted within ±{value}',
}
