/** Sets of documents that may spoil models: what they are, and why that matters. */
interface Flag {
  title: string
  said: string
  why: string
}
export const FLAGS: Record<string, Flag> = {
  empty: { title: 'Empty documents', said: 'without any word', why: 'they can’t be part of a fit' },
  short: { title: 'Very short documents', said: 'under 5 words', why: 'a topic can hardly be read from them' },
  long: { title: 'Very long documents', said: 'over ten times the median', why: 'each outweighs many others' },
  same: {
    title: 'Repeats',
    said: 'repeating an earlier one word for word',
    why: 'repeats make their words look important',
  },
  near: {
    title: 'Near-repeats',
    said: 'nearly repeating an earlier one',
    why: 'three-word runs shared by 80 % or more',
  },
  foreign: {
    title: 'In another language',
    said: 'in another language than most',
    why: 'they become topics of their own',
  },
  garbled: {
    title: 'Garbled documents',
    said: 'with characters that a wrong encoding leaves',
    why: 'read the file in another encoding',
  },
  undated: { title: 'Documents without a date', said: 'without a date', why: 'they are missing over time' },
  emptied: { title: 'Documents that pruning emptied', said: 'emptied by pruning', why: 'no term of theirs is left' },
}
