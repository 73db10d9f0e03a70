import { defineAsyncComponent, type Component } from 'vue'

/** The picture of each drawing, by its id: ``false_air`` is ``FalseAirPicture.vue``, fetched when it is first looked at. */
const files = import.meta.glob<{ default: Component }>('./pictures/*.vue')

function idOf(path: string): string {
  const name = path.replace(/^.*\/(.*)Picture\.vue$/, '$1')
  return name.replace(/(?<!^)([A-Z])/g, '_$1').toLowerCase()
}

export const PICTURES: Record<string, Component> = Object.fromEntries(
  Object.entries(files).map(([path, load]) => [
    idOf(path),
    defineAsyncComponent(() => load().then((module) => module.default)),
  ]),
)
