import type { Station } from '@/frame/station'

const found = import.meta.glob<Station>('./*/index.ts', { eager: true, import: 'default' })

/** The stations that are built: one folder each. */
export const STATIONS: Station[] = Object.values(found).sort((one, other) => one.number - other.number)
