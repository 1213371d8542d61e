import { inject, type InjectionKey } from 'vue'

/** A part of a station that has its own address; nothing of it is asked for until it is opened. */
export interface Room {
  name: string
  label: string
  /** The step whose result it shows, where that is another than the station's. */
  step?: string
}

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
  /** Where it holds more than a screen; the first one is open where the address names none. */
  rooms?: Room[]
  view: () => Promise<unknown>
}

/** The stations there are, in the order of the rail; the application hands them in. */
export const STATIONS: InjectionKey<Station[]> = Symbol('stations')
export const useStations = () => inject(STATIONS, [])
