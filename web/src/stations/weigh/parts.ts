/** The parts of the station, in the order of the work: each names its own view. */
export const PARTS = [
  ['prune', 'Prune'],
  ['weights', 'Weights'],
  ['grid', 'Matrix'],
  ['terms', 'Terms'],
  ['new', 'New text'],
  ['files', 'Split and files'],
] as const
export type Part = (typeof PARTS)[number][0]
