import { computed, effectScope } from 'vue'

import type { EvidenceRequest } from '@/api/evidence'

import { useAddress } from './address'

/** A request as one parameter of the address. */
export function writeRequest(request: EvidenceRequest): string {
  const parts = Object.entries(request).filter(([, value]) => value !== null && value !== undefined)
  return new URLSearchParams(parts.map(([key, value]) => [key, String(value)])).toString()
}

/** The request that `writeRequest` wrote; all of its values are texts, which the server reads. */
export const readRequest = (text: string) =>
  Object.fromEntries(new URLSearchParams(text)) as unknown as EvidenceRequest & Record<string, string>

/** The topic that a request asks for, if it asks for one. */
export const topicOf = (request: EvidenceRequest | null) =>
  request?.topic === undefined ? undefined : Number(request.topic)

function follow() {
  const { get, set } = useAddress()
  const text = computed(() => get('ev'))
  const request = computed(() => (text.value ? readRequest(text.value) : null))
  return {
    text,
    request,
    /** The topic that is selected, if one is. */
    topic: computed(() => topicOf(request.value)),
    select: (wanted: EvidenceRequest) => set({ ev: writeRequest(wanted), evp: '' }),
    isSelected: (wanted: EvidenceRequest) => text.value === writeRequest(wanted),
    /** Open a document; `place` is where it stands in the evidence, for next and previous. */
    read: (document: number, place?: number) =>
      set({ read: String(document), at: place === undefined ? '' : String(place) }, true),
  }
}

let shared: ReturnType<typeof follow> | undefined

/** What is selected, wherever it was selected: the evidence follows it. One for all marks there are. */
export const useEvidence = () => (shared ??= effectScope(true).run(follow)!)
