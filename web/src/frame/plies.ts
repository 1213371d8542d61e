/** A setting's value for people. */
export function settingText(value: unknown): string {
  if (value === null || value === undefined) return 'not set'
  if (value === true) return 'on'
  if (value === false) return 'off'
  if (Array.isArray(value)) return value.length ? value.join(', ') : 'none'
  return String(value)
}
