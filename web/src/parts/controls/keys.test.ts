// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { defineComponent, h } from 'vue'
import { afterEach, expect, it } from 'vitest'
import { useKeys } from '@/parts/controls/keys'

let pressed: string[] = []
const Screen = defineComponent({
  setup() {
    useKeys(() => ({
      m: () => pressed.push('mark'),
      '?': () => pressed.push('help'),
      'ctrl+shift+z': () => pressed.push('again'),
    }))
    return () => h('div', [h('input'), h('div', { role: 'slider', tabindex: 0 }), h('button', 'go')])
  },
})
const screens: ReturnType<typeof mount>[] = []
function screen() {
  pressed = []
  screens.push(mount(Screen, { attachTo: document.body }))
  return screens.at(-1)!
}
afterEach(() => screens.splice(0).forEach((each) => each.unmount()))

it('does what a key stands for, wherever on the screen it is pressed, and keeps it from the browser', async () => {
  const press = new KeyboardEvent('keydown', { key: 'm', bubbles: true, cancelable: true })
  const found = screen()
  found.get('button').element.dispatchEvent(press)
  found.get('[role=slider]').element.dispatchEvent(new KeyboardEvent('keydown', { key: 'm', bubbles: true }))
  window.dispatchEvent(new KeyboardEvent('keydown', { key: '?' }))
  expect(pressed).toEqual(['mark', 'mark', 'help'])
  expect(press.defaultPrevented).toBe(true)
})

it('leaves keys to the field in which they are pressed, and those with Ctrl to the browser', async () => {
  const found = screen()
  await found.get('input').trigger('keydown', { key: 'm' })
  await found.get('button').trigger('keydown', { key: 'm', ctrlKey: true })
  await found.get('button').trigger('keydown', { key: 'x' })
  expect(pressed).toEqual([])
})

it('knows what Ctrl or the command key makes of a key, but in no field', async () => {
  const found = screen()
  await found.get('button').trigger('keydown', { key: 'Z', ctrlKey: true, shiftKey: true })
  await found.get('button').trigger('keydown', { key: 'Z', metaKey: true, shiftKey: true })
  await found.get('button').trigger('keydown', { key: 'z', ctrlKey: true })
  await found.get('input').trigger('keydown', { key: 'Z', ctrlKey: true, shiftKey: true })
  expect(pressed).toEqual(['again', 'again'])
})

it('hears nothing any more once the screen is left', () => {
  screen().unmount()
  screens.pop()
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'm' }))
  expect(pressed).toEqual([])
})
