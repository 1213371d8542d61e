/** The schema of one setting, as the server sends it. */
export interface Field {
  type?: string
  title: string
  description?: string
  enum?: string[]
  /** Of these, by value and name, any number may be chosen. */
  several?: Record<string, string>
  words?: boolean
  /** Words of a line each, which may hold commas. */
  lines?: boolean
  /** What such a line may be. */
  line?: string
  minimum?: number
  maximum?: number
  exclusiveMinimum?: number
  /** It may be left open; what is done then. */
  open?: boolean
  left_open?: string
  step?: number
  /** Its value is one of the names that the screen knows, such as the fields of the documents. */
  of?: 'fields'
  /** It is asked for only while other settings have these values. */
  with?: Record<string, unknown>
  default?: unknown
  /** What to begin with, where that is another. */
  suggested?: unknown
}

/** Whether a setting is asked for, with the values that the others have now. */
export const isAsked = (field: Field, values: Record<string, unknown>) =>
  Object.entries(field.with ?? {}).every(([name, value]) => values[name] === value)

/** A number as it was typed: null where it may be left open and is; undefined where it is out of range. */
export function typedNumber(field: Field, typed: string): number | null | undefined {
  if (!typed.trim()) return field.open ? null : undefined
  const value = Number(typed)
  if (Number.isNaN(value) || (field.type === 'integer' && !Number.isInteger(value))) return undefined
  if (value < (field.minimum ?? -Infinity) || value > (field.maximum ?? Infinity)) return undefined
  return value > (field.exclusiveMinimum ?? -Infinity) ? value : undefined
}
