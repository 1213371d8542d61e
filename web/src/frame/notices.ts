import { ref } from 'vue'

export interface Notice {
  id: number
  text: string
  kind: 'plain' | 'bad'
}

export const notices = ref<Notice[]>([])
let last = 0

/** Show a sentence at the foot of the window; bad news stays longer. */
export function say(text: string, kind: Notice['kind'] = 'plain') {
  if (notices.value.some((each) => each.text === text)) return
  const notice = { id: ++last, text, kind }
  notices.value.push(notice)
  setTimeout(() => dismiss(notice.id), kind === 'bad' ? 12_000 : 4_000)
}

export function dismiss(id: number) {
  notices.value = notices.value.filter((each) => each.id !== id)
}
