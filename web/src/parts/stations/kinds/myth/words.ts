export const en = {
  name: 'True or not',
  asked: 'Misconceptions to draw from',
  count: 'Statements for each learner',
  find: 'Find by a word',
  true: 'true',
  false: 'not true',
  missing: 'Say of each statement whether it is true.',
  drawn: 'Each learner gets some of them, in another order, each as the misconception or as what is true.',
}
