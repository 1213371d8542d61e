import { inject, type InjectionKey } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'

/** What marks ask of whoever shows evidence. */
export interface Selection {
  select: (wanted: EvidenceRequest) => void
  isSelected: (wanted: EvidenceRequest) => boolean
}

/** The application hands it in; marks without one select nothing. */
export const SELECTION: InjectionKey<Selection> = Symbol('selection')
export const useSelection = () => inject(SELECTION, { select: () => undefined, isSelected: () => false })
