import { onBeforeUnmount, onMounted, ref, shallowReactive } from 'vue'

export interface Action {
  key: string
  what: string
  run: () => void
}

const actions = shallowReactive(new Map<string, Action>())
const STORED = 'skeinwork-keys'
export const keysOn = ref(localStorage.getItem(STORED) !== 'off')
export const allActions = () => [...actions.values()]

export function switchKeys(on: boolean) {
  keysOn.value = on
  localStorage.setItem(STORED, on ? 'on' : 'off')
}

function inText(target: EventTarget | null) {
  const element = target as HTMLElement | null
  return !!element?.closest?.(
    'input:not([type="checkbox"], [type="radio"]), textarea, select, [contenteditable], [role="combobox"], [role="listbox"]',
  )
}

export function listenToKeys() {
  window.addEventListener('keydown', (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || inText(event.target)) return
    if (!keysOn.value && event.key.length === 1 && event.key !== '?') return
    const action = actions.get(event.key)
    if (!action) return
    event.preventDefault()
    action.run()
  })
}

/** An action with a single key, while the component is shown. */
export function useKey(key: string, what: string, run: () => void) {
  const action = { key, what, run }
  let before: Action | undefined
  onMounted(() => {
    before = actions.get(key)
    actions.set(key, action)
  })
  onBeforeUnmount(() => {
    if (actions.get(key) !== action) return
    if (before) actions.set(key, before)
    else actions.delete(key)
  })
}
