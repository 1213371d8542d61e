// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest'
import { createApp, defineComponent, h, ref } from 'vue'

import { allActions, listenToKeys, switchKeys, useKey } from './keys'

const pressed: string[] = []
const User = (name: string, key: string) =>
  defineComponent(() => {
    useKey(key, name, () => pressed.push(name))
    return () => h('i')
  })
const press = (key: string, target: EventTarget = document.body, more = {}) =>
  target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, ...more }))

listenToKeys()
afterEach(() => {
  pressed.length = 0
  switchKeys(true)
})

describe('single keys', () => {
  it('belong to what was shown last, and go back when it is gone', async () => {
    const open = ref(true)
    const Under = User('under', 'j')
    const Over = User('over', 'j')
    const app = createApp(() => [h(Under), open.value ? h(Over) : null])
    app.mount(document.createElement('div'))
    press('j')
    open.value = false
    await Promise.resolve()
    press('j')
    app.unmount()
    press('j')
    expect(pressed).toEqual(['over', 'under'])
    expect(allActions()).toEqual([])
  })
  it('are left alone in a text field, with a modifier, and when they are switched off', () => {
    const app = createApp(User('one', 'x'))
    app.mount(document.createElement('div'))
    const field = document.body.appendChild(document.createElement('input'))
    press('x', field)
    press('x', document.body, { ctrlKey: true })
    switchKeys(false)
    press('x')
    expect(pressed).toEqual([])
    app.unmount()
  })
})
