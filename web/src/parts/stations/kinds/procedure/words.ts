export const en = {
  name: 'Handwork',
  piece: 'Piece of handwork',
  pieces: {
    seized_sensor: 'A seized oxygen sensor',
    new_sensor: 'Fitting a new oxygen sensor',
    plastic_nipple: 'A hose on a brittle nipple',
    meter_element: 'Cleaning an airflow meter',
    live_leads: 'Leads on a live circuit',
  },
  next: 'What do you do next?',
  stage: 'Stage {n} of {all}',
  do: 'Do it; it cannot be taken back',
  stop: 'Stop.',
  hurts: 'Somebody could have been hurt here: the whole piece counts nothing.',
  best: 'Best: {text}.',
  unheeded: 'Acknowledge the cautions first.',
  missing: 'Choose at every stage.',
}
