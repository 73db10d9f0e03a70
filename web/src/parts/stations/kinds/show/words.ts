export const en = {
  name: 'Show',
  channels: 'Lanes',
  showGood: 'Show the sound engine beside it',
  focus: 'Zoom to',
  wholeScript: 'whole script',
}
