/** Lowest, mean and highest of the values of each count. */
export const spread = (values: number[][]) =>
  values.map((row) => ({
    low: Math.min(...row),
    mean: row.reduce((sum, each) => sum + each, 0) / row.length,
    high: Math.max(...row),
  }))
