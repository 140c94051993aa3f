export interface BenchRow {
  readonly name: string
  readonly value: number
  readonly unit: string
  /** What the value is compared with, in words and in the same unit. */
  readonly baseline: string
  readonly ratio: number
  /** The most the value or the ratio may be, as the row says. */
  readonly budget: string
  readonly ok: boolean
}

export function percentile(values: readonly number[], p: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.ceil(p * sorted.length) - 1)]
}

export const median = (values: readonly number[]): number => percentile(values, 0.5)
export const round = (n: number, digits = 2): number => Number(n.toFixed(digits))
