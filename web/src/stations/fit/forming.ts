/** The place of every topic by its size at each time, the largest at 0; of equals the first comes first. */
export const ranks = (sizes: number[][]): number[][] =>
  sizes.map((each) => {
    const place = new Array<number>(each.length)
    each
      .map((_, topic) => topic)
      .sort((a, b) => each[b] - each[a] || a - b)
      .forEach((topic, rank) => (place[topic] = rank))
    return place
  })
