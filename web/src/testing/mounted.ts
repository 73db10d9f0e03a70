import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount, type VueWrapper } from '@vue/test-utils'
import type { Component, Plugin } from 'vue'
import { i18n } from '@/app/i18n'
import type { Catalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'

function channel(
  id: string,
  label: string,
  quantity: string,
  layer: 'scan' | 'truth',
  digits: number,
): Schemas['ChannelOut'] {
  return { id, label, quantity, layer, family: 'airflow', measurand: quantity, digits } as Schemas['ChannelOut']
}

function unit(symbol: string, factor: number) {
  return { symbol, factor, offset: 0, extra_digits: 0, signed: false, also: [] }
}

/** A catalogue with one engine, two channels of one measurand, two kinds of faults. */
export const CATALOGUE = {
  core: 'test',
  rigs: [
    {
      id: 'R1',
      base: 'R1',
      name: 'Library bus',
      description: '',
      sensors: [],
      channels: ['maf', 'maf_true'],
      faults: { leak: {}, wrong: { part: ['ect_sensor', 'iat_sensor'] } },
    },
  ],
  scripts: [],
  conditions: [
    { id: 'koeo', label: 'Key on, engine off' },
    { id: 'hot_idle', label: 'Hot idle' },
    { id: 'wot_pull', label: 'Full load' },
  ],
  channels: [
    channel('maf', 'Mass airflow', 'mass_flow', 'scan', 2),
    channel('maf_true', 'Mass airflow', 'mass_flow', 'truth', 2),
  ],
  quantities: [
    {
      id: 'mass_flow',
      label: 'mass flow',
      kept: 'g/s',
      metric: 'g/s',
      imperial: 'lb/min',
      reference: '',
      means: {},
      units: [unit('g/s', 1), unit('lb/min', 0.132277)],
    },
  ],
  faults: [
    {
      id: 'leak',
      label: 'Air leak behind the throttle',
      group: 'air_path',
      meaning: 'Air enters.',
      place: 'map_truth',
      parameters: [parameter({ id: 'area_mm2', label: 'opening', unit: 'mm²', low: 0.1, high: 200, steps: [1, 2, 4] })],
      cautions: [],
    },
    {
      id: 'wrong',
      label: 'A part with another characteristic',
      group: 'wrong_part',
      meaning: 'It fits.',
      place: 'wiring',
      parameters: [
        parameter({
          id: 'part',
          label: 'part',
          choices: ['ect_sensor', 'iat_sensor', 'map_sensor'],
          called: { ect_sensor: 'ECT sensor', iat_sensor: 'IAT sensor', map_sensor: 'MAP sensor' },
        }),
        parameter({ id: 'gain', label: 'reading / true value', unit: '-', low: 0.3, high: 3, steps: [0.9, 0.8, 1.3] }),
      ],
      cautions: [],
    },
    { id: 'other_engine', label: 'Wideband', group: 'x', meaning: '', place: 'wideband', parameters: [], cautions: [] },
  ],
  circuits: {},
  onsets: [
    { id: 'permanent', label: 'always', numbers: [] },
    {
      id: 'hot',
      label: 'only when hot',
      numbers: [{ id: 'above_C', label: 'coolant above', unit: '°C', low: -40, high: 140, start: 75 }],
    },
  ],
} as unknown as Catalogue

function parameter(told: Record<string, unknown>) {
  return {
    unit: '',
    low: 0,
    high: 0,
    steps: [],
    choices: [],
    called: {},
    optional: false,
    depends_on: '',
    ranges: {},
    ...told,
  }
}

/** A component on a page with texts and the catalogue, as the application has them. */
export function mounted(
  component: Component,
  props: Record<string, unknown>,
  stubs: Record<string, boolean | Component> = {},
  provide: Record<symbol, unknown> = {},
  plugins: Plugin[] = [],
  catalogue: Catalogue = CATALOGUE,
): VueWrapper {
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  queryClient.setQueryData(['catalogue'], catalogue)
  return mount(component, {
    props,
    attachTo: document.body,
    global: { plugins: [i18n, [VueQueryPlugin, { queryClient }], ...plugins], stubs, provide },
  })
}
