import { inject, type InjectionKey } from 'vue'

/** What a station says of itself; the rail, the keys and the addresses are made from it. */
export interface Station {
  /** Its place on the rail; a station keeps its number while another is missing. */
  number: number
  name: string
  label: string
  /** The step of the chain whose result it shows. */
  step: string
  /** It is where that result is made: the strand bar leads here. */
  makes?: boolean
  /** The kinds of job that work on what it shows. */
  jobs?: string[]
  /** Its jobs are worth a look before there is that result. */
  alone?: boolean
  view: () => Promise<unknown>
}

/** The stations there are, in the order of the rail; the application hands them in. */
export const STATIONS: InjectionKey<Station[]> = Symbol('stations')
export const useStations = () => inject(STATIONS, [])
