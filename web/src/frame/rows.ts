/** From the row of a list that has the focus to the one so many places on, which is picked. */
export function stepRow(event: KeyboardEvent, rows: string, by: number) {
  const shown = Array.from((event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>(rows))
  const next = shown[shown.indexOf(document.activeElement as HTMLElement) + by]
  if (!next) return
  event.preventDefault()
  next.focus()
  next.click()
}
