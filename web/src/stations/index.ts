import type { Station } from './station'

const found = import.meta.glob<Station>('./*/index.ts', { eager: true, import: 'default' })

/** The stations that are built: one folder each. */
export const STATIONS: Station[] = Object.values(found).sort((one, other) => one.number - other.number)

/** The station where the result of a step is made. */
export const stationOf = (step: string) => STATIONS.find((station) => station.makes && station.step === step)
