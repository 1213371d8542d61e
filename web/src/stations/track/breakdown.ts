import { computed } from 'vue'

import { useTrackChoices, type Breakdown } from '@/api/prevalence'
import { useAddress } from '@/frame/address'

const NONE = 'none'

/** What prevalence is broken down by, as it stands in the address or is suggested. */
export function useBreakdown() {
  const { get, list, set } = useAddress()
  const query = useTrackChoices()
  const choices = query.data
  const group = computed(() =>
    get('by') === NONE ? undefined : get('by') || (choices.value?.suggested_group ?? undefined),
  )
  const breaks = computed(() => list('break').filter((each) => /^\d{4}-\d{2}-\d{2}$/.test(each)))
  const period = computed(() => {
    const asked = get('each') || choices.value?.suggested_period
    return breaks.value.length ? undefined : choices.value?.periods.find((each) => each === asked)
  })
  /** What was sampled: as suggested until chosen; a group can't be its own unit. */
  const suggestedUnit = computed(() => choices.value?.suggested_units.find((each) => each.unit !== group.value))
  const unit = computed(() => {
    const asked = get('unit') || (suggestedUnit.value?.unit ?? 'documents')
    return asked === 'documents' || asked === group.value ? undefined : asked
  })
  const weight = computed(() => get('weight', 'tokens') as 'tokens' | 'documents')
  const fixed = computed(() => list('fixed').filter((each) => each !== group.value))
  const timed = computed(() => !!period.value || breaks.value.length > 0)
  const by = computed<Breakdown>(() => ({
    group: group.value,
    ...spanned.value,
    weight: weight.value,
    unit: unit.value,
    design: get('design') || undefined,
    fixed: fixed.value.length ? fixed.value : undefined,
  }))
  const spanned = computed(() => (breaks.value.length ? { breaks: breaks.value } : { period: period.value }))
  /** The same without the time. */
  const byGroup = computed<Breakdown>(() => ({ ...by.value, period: undefined, breaks: undefined }))
  return {
    ...{ choices, query, by, byGroup, group, period, breaks, unit, weight, fixed, timed, suggestedUnit, set, get },
    asSuggested: computed(() => get('by') === '' && get('each') === '' && !breaks.value.length),
    /** What the time is cut into, in a word. */
    span: computed(() => (breaks.value.length ? 'stretch' : period.value)),
  }
}
