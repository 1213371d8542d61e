const THIN = '\u202f'

/** A weight with five significant digits, without zeros at its end: 2.0794, 0.00031, 4 812. */
export function five(value: number): string {
  if (!Number.isFinite(value) || value === 0) return '0'
  const size = Math.abs(value)
  if (size < 1e-4) return value.toExponential(2).replace('-', '−')
  const digits = Math.max(0, 4 - Math.floor(Math.log10(size)))
  const [whole, part = ''] = value.toFixed(digits).split('.')
  const grouped = whole.replace('-', '−').replace(/\B(?=(\d{3})+$)/g, THIN)
  const kept = part.replace(/0+$/, '')
  return kept ? `${grouped}.${kept}` : grouped
}

/** A weight in the few letters of a cell: 12, 3.4, 0.08. */
export function brief(value: number): string {
  if (Number.isInteger(value)) return value >= 10_000 ? `${Math.round(value / 1000)}k` : String(value)
  const size = Math.abs(value)
  if (size >= 100) return value.toFixed(0)
  return size >= 10 ? value.toFixed(1) : size >= 0.095 ? value.toFixed(2) : value.toFixed(3).replace(/^0\./, '.')
}
