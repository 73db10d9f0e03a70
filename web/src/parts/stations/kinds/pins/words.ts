export const en = {
  name: 'Pins',
  plug: 'Plug',
  pin: 'Pin',
  volts: 'Volts against battery minus',
  is: 'What it is',
  choose: 'choose',
  whatIs: 'What pin {letter} is',
  caution: 'Probe at the back of the plug or with a breakout lead; never pierce the wire or bridge two pins.',
  missing: 'Give each pin a role.',
}
