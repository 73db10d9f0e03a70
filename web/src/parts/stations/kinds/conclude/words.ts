export const en = {
  name: 'Conclude',
  readings: 'Readings that the cause must explain',
  causes: 'Offered causes',
  nothingWrong: 'Nothing is wrong',
  addCause: 'Add cause',
  missing: 'Choose the cause that explains all readings.',
  yourCause: 'Which one explains all of them?',
  explains: 'explains all readings',
  explainsNot: 'ruled out',
  trueCause: 'built into the car',
  chosen: 'chosen',
}
