export const en = {
  name: 'Predict',
  readings: 'Readings to predict',
  tellFault: 'Say what is going to be wrong',
  whatIf: 'What if: {what}',
  whatIfHidden: 'Something goes wrong at this engine. Which way will each reading go?',
  now: 'The sound engine shows',
  higher: 'higher',
  lower: 'lower',
  same: 'stays',
  missing: 'Say of each reading whether it goes up, down, or stays.',
}
