export const en = {
  name: 'Verify',
  complaint: 'Condition of the complaint',
  readings: 'Readings before and after',
  chance:
    'By chance for each learner: the repair has helped or not, and the drive after it met the condition of the complaint or not. Short- and long-term trims are shown, but do not decide.',
  was: 'The complaint was at: {where}.',
  ask: 'Is it mended?',
  before: 'Before',
  after: 'After',
  here: 'the complaint',
  notDriven: 'not driven',
  mended: 'mended',
  not_mended: 'not mended',
  not_shown: 'not shown yet',
  missing: 'Say whether it is mended.',
}
