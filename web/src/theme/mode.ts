import { ref } from 'vue'

const STORED = 'skeinwork-theme'
export type Mode = 'light' | 'dark'

const preferred = (): Mode => (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light')
export const mode = ref<Mode>((localStorage.getItem(STORED) as Mode | null) ?? preferred())

export function applyTheme() {
  document.documentElement.classList.toggle('dark', mode.value === 'dark')
}

export function switchTheme() {
  mode.value = mode.value === 'dark' ? 'light' : 'dark'
  localStorage.setItem(STORED, mode.value)
  applyTheme()
}
